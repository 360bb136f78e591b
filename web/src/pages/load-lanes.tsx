import { useState } from 'react'
import { bytes, milliseconds, plural } from '../figures/format.js'
import type { Lane } from './page-sheet-place.js'
import { pageTotals } from './page-totals.js'
import { address } from './request-list.js'

const LANE_LINE = 16
/** A payer with more requests than this is shown on one line, until it is unfolded. */
const MOST_LINES = 8

function toggled(set: ReadonlySet<string>, key: string): ReadonlySet<string> {
  const next = new Set(set)
  if (!next.delete(key)) next.add(key)
  return next
}

/** The page's load over time: a lane per payer, a line per request. */
export function LoadLanes({ lanes, load }: { lanes: Lane[]; load: number | null }) {
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set())
  const ends = lanes.flatMap((lane) => lane.requests.map((request) => request.endedMs ?? request.startedMs))
  const span = Math.max(load ?? 0, ...ends, 1) * 1.02
  const at = (ms: number) => `${(ms / span) * 100}%`
  const step = [50, 100, 200, 500, 1000, 2000, 5000, 10_000, 30_000].find((s) => span / s <= 8) ?? 60_000
  const ticks = Array.from({ length: Math.floor(span / step) + 1 }, (_, n) => n * step).filter(
    // The mark of the load event needs its own room.
    (tick) => load === null || Math.abs(tick - load) > span * 0.08,
  )
  return (
    <section aria-label="Load over time" className="px-4 py-3">
      <h2 className="text-[17px]">Load over time, by payer</h2>
      <div className="mt-2 grid grid-cols-[180px_minmax(0,1fr)_88px]">
        <span />
        <div className="figures relative h-5 text-[12px] text-soft">
          {ticks.map((tick) => (
            <span key={tick} className="absolute border-l border-line pl-1" style={{ left: at(tick) }}>
              {milliseconds(tick)}
            </span>
          ))}
          {load !== null && (
            <span className="absolute -translate-x-full pr-1 font-semibold text-ink" style={{ left: at(load) }}>
              load
            </span>
          )}
        </div>
        <span className="text-right text-[12px] text-soft">transfer</span>
        {lanes.map((lane) => {
          const folded = lane.requests.length > MOST_LINES && !unfolded.has(lane.payer)
          return (
            <div key={lane.payer} className="contents">
              <p className="truncate border-t border-line py-1 pr-3">
                {lane.name}
                {lane.requests.length > MOST_LINES && (
                  <button
                    type="button"
                    aria-expanded={!folded}
                    onClick={() => setUnfolded(toggled(unfolded, lane.payer))}
                    className="block text-[12px] text-verdigris hover:underline"
                  >
                    {folded ? `${requestWords(lane.requests)}, one line each` : 'On one line'}
                  </button>
                )}
              </p>
              <ul
                className="relative border-t border-line py-1"
                style={{ minHeight: folded ? 2 * LANE_LINE + 8 : LANE_LINE + 8 }}
              >
                {load !== null && (
                  <span aria-hidden className="absolute inset-y-0 border-l border-ink/50" style={{ left: at(load) }} />
                )}
                {lane.requests.map((request) => {
                  const end = request.endedMs ?? span
                  const { file, host } = address(request.url)
                  return (
                    <li
                      key={request.id}
                      style={{ height: LANE_LINE }}
                      className={folded ? 'absolute inset-x-0 top-1' : 'relative'}
                      title={`${request.url}\n${request.type}, ${request.failure ?? request.status}, ${request.fromCache ? 'from the browser’s cache' : bytes(request.transferBytes)}, ${milliseconds(request.startedMs)} to ${milliseconds(end)}`}
                    >
                      <span
                        className="absolute top-1 h-2"
                        style={{
                          left: at(request.startedMs),
                          width: `max(2px, ${at(end - request.startedMs)})`,
                          ...(request.fromCache
                            ? { border: '1px solid var(--ramp-3)' }
                            : { background: `var(--ramp-${request.failure ? 4 : 3})` }),
                        }}
                      />
                      {!folded && (
                        <span
                          className="absolute max-w-[46%] truncate text-[12px] leading-4 text-soft"
                          style={
                            request.startedMs / span > 0.5
                              ? { right: `calc(${100 - (request.startedMs / span) * 100}% + 6px)` }
                              : { left: `calc(${at(end)} + 6px)` }
                          }
                        >
                          <span className="text-ink">{file}</span> {host}
                          {request.fromCache && ' · from cache'}
                        </span>
                      )}
                    </li>
                  )
                })}
              </ul>
              <p className="figures border-t border-line py-1 text-right font-semibold">
                {bytes(lane.requests.reduce((sum, request) => sum + request.transferBytes, 0))}
              </p>
            </div>
          )
        })}
      </div>
    </section>
  )
}

function requestWords(requests: Lane['requests']): string {
  const { requests: out, fromCache } = pageTotals(requests)
  return fromCache === 0 ? plural(out, 'request') : `${plural(out, 'request')} and ${fromCache} from cache`
}
