import type { RedirectChain } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** Requests that were sent on, address by address. */
export function RedirectChains({ chains }: { chains: RedirectChain[] }) {
  if (chains.length === 0) return null
  return (
    <section className="px-4 pt-6">
      <h2 className="text-[17px]">Redirect chains</h2>
      <ul className="mt-1">
        {chains.map(({ payer, hops, pages }) => (
          <li key={hops.join(' ')} className="flex flex-wrap gap-x-3 border-b border-line/60 py-1.5">
            <span className="w-44 truncate font-semibold">{payer}</span>
            <span className="min-w-0 flex-1">
              {hops.map((hop, n) => (
                <span key={n}>
                  {n > 0 && <span className="px-1.5 text-soft">to</span>}
                  {hop.replace(/^https?:\/\//, '')}
                </span>
              ))}
            </span>
            <span className="figures text-soft">
              {plural(hops.length - 1, 'hop')}, on {plural(pages, 'page')}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}
