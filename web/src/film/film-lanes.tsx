import type { FilmedLoad } from '@unvelt/contract'
import { bytes } from '../figures/format.js'

interface FilmLanesProps {
  before: FilmedLoad
  after: FilmedLoad
  /** The clock, and when it ends; ms. */
  at: number
  end: number
}

const COLOURS = { before: 'var(--ramp-3)', after: 'var(--verdigris)' }
const HEIGHT = 7

/** Payer by payer what came when, before above after; what is still to come at this moment is pale. */
export function FilmLanes({ before, after, at, end }: FilmLanesProps) {
  const payers = [...new Map([...before.lanes, ...after.lanes].map(({ payer, name }) => [payer, name]))]
  const of = (load: FilmedLoad, payer: string) => load.lanes.find((lane) => lane.payer === payer)
  return (
    <table
      aria-label="What came for whom, before above after"
      className="figures mt-3 w-full max-w-[980px] text-[12.5px]"
    >
      <thead className="sr-only">
        <tr>
          <th>Whose</th>
          <th>When</th>
          <th>Before</th>
          <th>After</th>
        </tr>
      </thead>
      <tbody>
        {payers.map(([payer, name]) => {
          const [was, is] = [of(before, payer), of(after, payer)]
          return (
            <tr key={payer} className="border-t border-line/60">
              <th className="w-44 max-w-44 truncate py-1 pr-2 text-left font-normal">{name}</th>
              <td className="py-1">
                <svg width="100%" height={2 * HEIGHT + 4} preserveAspectRatio="none" aria-hidden className="block">
                  {(
                    [
                      ['before', was],
                      ['after', is],
                    ] as const
                  ).map(([side, lane], row) =>
                    (lane?.spans ?? []).map(([from, until], n) => (
                      <rect
                        key={`${side} ${n}`}
                        x={`${(from / end) * 100}%`}
                        width={`${Math.max(0.15, ((until - from) / end) * 100)}%`}
                        y={row * (HEIGHT + 2)}
                        height={HEIGHT}
                        fill={COLOURS[side]}
                        opacity={from > at ? 0.18 : until > at ? 0.6 : 1}
                      />
                    )),
                  )}
                  <line x1={`${(at / end) * 100}%`} x2={`${(at / end) * 100}%`} y1="0" y2="100%" stroke="var(--ink)" />
                </svg>
              </td>
              <td className="w-20 py-1 pl-2 text-right text-soft">{was ? bytes(was.transferBytes) : '–'}</td>
              <td className="w-20 py-1 pl-2 text-right">{is ? bytes(is.transferBytes) : '–'}</td>
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
