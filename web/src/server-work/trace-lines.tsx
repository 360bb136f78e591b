import clsx from 'clsx'
import { useState } from 'react'
import type { TraceSpanView } from '@unvelt/contract'
import { milliseconds, percent, plural } from '../figures/format.js'

const INDENT = 14
const DEEPEST_SHOWN = 8
/** What took less of the whole is left out at first: a page has hundreds of steps, and few of them matter. */
const LEAST_SHARE = 0.005

interface Props {
  lines: TraceSpanView[]
  more: number
  names: ReadonlyMap<string, string>
}

/** Steps and queries where they stand in time, each below what called it. */
export function TraceLines({ lines, more, names }: Props) {
  const [all, setAll] = useState(false)
  const end = Math.max(1, ...lines.map(({ untilMs }) => untilMs))
  const shown = all ? lines : lines.filter(({ ms }) => ms >= LEAST_SHARE * end)
  const share = (ms: number) => `${(ms / end) * 100}%`
  return (
    <section aria-label="Step by step" className="px-4 py-4">
      <h2 className="text-[17px]">Step by step</h2>
      <ul className="mt-2 text-[13px]">
        {shown.map(({ id, depth, addon, name, query, fromMs, untilMs, ms, times }) => (
          <li
            key={id}
            className="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)_72px] items-center border-b border-line/60 py-0.5"
            title={`${names.get(addon) ?? addon}: ${name}\n${milliseconds(fromMs)} to ${milliseconds(untilMs)}`}
          >
            <span
              className="flex min-w-0 gap-1.5 pr-3"
              style={{ paddingLeft: Math.min(depth, DEEPEST_SHOWN) * INDENT }}
            >
              {!query && <span className="shrink-0 font-semibold">{names.get(addon) ?? addon}</span>}
              <span className={clsx('min-w-0 truncate', query ? 'font-mono text-[12px] text-soft' : 'text-soft')}>
                {name}
              </span>
              {times > 1 && <span className="figures shrink-0">{plural(times, 'time')}</span>}
            </span>
            <span className="relative h-2.5">
              <span
                className={clsx('absolute inset-y-0 min-w-px', query ? 'bg-[var(--ramp-2)]' : 'bg-[var(--ramp-3)]')}
                style={{ left: share(fromMs), width: share(untilMs - fromMs) }}
              />
            </span>
            <span className="figures text-right">{milliseconds(ms)}</span>
          </li>
        ))}
      </ul>
      {shown.length < lines.length || all ? (
        <button type="button" className="mt-2 text-verdigris hover:underline" onClick={() => setAll((now) => !now)}>
          {all
            ? `Only what took at least ${percent(LEAST_SHARE)} of it`
            : `${plural(lines.length - shown.length, 'line')} more, each under ${percent(LEAST_SHARE)} of it`}
        </button>
      ) : null}
      {more > 0 && <p className="mt-2 text-soft">{plural(more, 'more line')} in this trace.</p>}
    </section>
  )
}
