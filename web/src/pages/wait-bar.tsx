import type { WaitView } from '@unvelt/contract'
import { milliseconds, percent } from '../figures/format.js'

const PARTS: [keyof WaitView, string, string][] = [
  ['hostAndNetwork', 'Host and network', 'var(--ramp-1)'],
  ['cms', 'CMS', 'var(--ramp-2)'],
  ['addOnsOnServer', 'Add-ons on the server', 'var(--ramp-3)'],
  ['addOnsInBrowser', 'Add-ons in the browser', 'var(--ramp-4)'],
  ['content', 'Content', 'var(--line)'],
]

/** Whom one waits for until the load event, as one bar with its figures below. */
export function WaitBar({ wait }: { wait: WaitView }) {
  const total = PARTS.reduce((sum, [key]) => sum + wait[key], 0)
  return (
    <section aria-label="Whom one waits for" className="mt-4">
      <div aria-hidden className="flex h-3 max-w-[900px] border border-line">
        {PARTS.map(([key, , colour]) => (
          <span key={key} style={{ width: `${(wait[key] / total) * 100}%`, background: colour }} />
        ))}
      </div>
      <dl className="figures mt-1.5 flex flex-wrap gap-x-6 gap-y-1 text-[12.5px]">
        {PARTS.map(([key, name, colour]) => (
          <div key={key} className="flex items-baseline gap-1.5">
            <span aria-hidden className="h-2.5 w-2.5 self-center border border-line" style={{ background: colour }} />
            <dt className="text-soft">{name}</dt>
            <dd className="font-semibold">{milliseconds(wait[key])}</dd>
            <dd className="text-soft">{percent(wait[key] / total)}</dd>
          </div>
        ))}
      </dl>
    </section>
  )
}
