import { useMemo, useState } from 'react'
import type { KindToll, PastSweep } from '@unvelt/contract'
import { bytes, count, dateTime, milliseconds, percent } from '../figures/format.js'
import { NotTold } from '../figures/toll-figure.js'
import { Chart, TableSwitch, type Inks } from '../parts/chart.js'

const TITLE = 'Transfer by kind, all pages'
const HEAD = 'py-1 pl-3 text-right font-normal'

/** Tolls by kind of payer. */
export function KindBars({ kinds }: { kinds: KindToll[] }) {
  const [asTable, setAsTable] = useState(false)
  const told = kinds.some(({ serverMs }) => serverMs > 0)
  const most = Math.max(1, ...kinds.map(({ transferBytes }) => transferBytes))
  return (
    <section aria-label={TITLE}>
      <TableSwitch title={TITLE} asTable={asTable} setAsTable={setAsTable} />
      {asTable ? (
        <table className="figures mt-1.5 w-full text-[13px]">
          <thead>
            <tr className="border-b border-line text-left text-[12.5px] text-soft">
              <th className="py-1 font-normal">Kind</th>
              <th className={HEAD}>Requests</th>
              <th className={HEAD}>Transfer</th>
              <th className={HEAD}>Idle</th>
              <th className={HEAD}>Browser</th>
              <th className={HEAD}>Server</th>
            </tr>
          </thead>
          <tbody>
            {kinds.map((each) => (
              <tr key={each.kind} className="border-b border-line/60">
                <td className="py-1">{each.kind}</td>
                <td className="py-1 pl-3 text-right">{count(each.requests)}</td>
                <td className="py-1 pl-3 text-right whitespace-nowrap">{bytes(each.transferBytes)}</td>
                <td className="py-1 pl-3 text-right whitespace-nowrap">{bytes(each.idleBytes)}</td>
                <td className="py-1 pl-3 text-right whitespace-nowrap">{milliseconds(each.mainThreadMs)}</td>
                <td className="py-1 pl-3 text-right whitespace-nowrap">
                  {told ? milliseconds(each.serverMs) : <NotTold />}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <ul className="figures mt-1.5">
          {kinds.map(({ kind, transferBytes }) => (
            <li key={kind} className="flex items-center gap-3 py-[3px] text-[13px]">
              <span className="w-24 shrink-0 text-right">{kind}</span>
              <span aria-hidden className="min-w-0 flex-1 border-l border-line">
                <span className="block h-3 bg-(--ramp-3)" style={{ width: `${(transferBytes / most) * 100}%` }} />
              </span>
              <span className="w-16 shrink-0 text-right whitespace-nowrap">{bytes(transferBytes)}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })

/** The middle page over past surveys. */
export function PastChart({ past }: { past: PastSweep[] }) {
  const configs = useMemo(
    () => [
      lineOf(past, 'Transfer, KB', ({ transferBytes }) => transferBytes / 1000, false),
      lineOf(past, 'Requests', ({ requests }) => requests, true),
    ],
    [past],
  )
  const told = past.some(({ serverMs }) => serverMs > 0)
  const last = past.at(-1)!
  const first = past[0]!
  return (
    <Chart title="The middle page over time" height={236} config={configs}>
      <table className="figures w-full text-[13px]">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 font-normal">Sweep</th>
            <th className={HEAD}>Requests</th>
            <th className={HEAD}>Transfer</th>
            <th className={HEAD}>Server</th>
            <th className={HEAD}>Load</th>
          </tr>
        </thead>
        <tbody>
          {past.map((each) => (
            <tr key={each.sweepId} className="border-b border-line/60">
              <td className="py-1">{dateTime(each.at)}</td>
              <td className="py-1 pl-3 text-right">{count(each.requests)}</td>
              <td className="py-1 pl-3 text-right whitespace-nowrap">{bytes(each.transferBytes)}</td>
              <td className="py-1 pl-3 text-right whitespace-nowrap">
                {told ? milliseconds(each.serverMs) : <NotTold />}
              </td>
              <td className="py-1 pl-3 text-right whitespace-nowrap">
                {each.loadMs === null ? '–' : milliseconds(each.loadMs)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-[13px] text-soft">
        Transfer {percent(last.transferBytes / first.transferBytes - 1)} since {day(first.at)}.
      </p>
    </Chart>
  )
}

/** As wide as the widest figures, so that two charts above each other share their axis of time. */
const AXIS_WIDTH = 56
/** Half of the last day's name stands beyond the last point. */
const LABEL_ROOM = 20

const lineOf =
  (past: PastSweep[], name: string, of: (sweep: PastSweep) => number, withDays: boolean) =>
  ({ ink, soft, line }: Inks) => ({
    type: 'line' as const,
    data: {
      labels: past.map(({ at }) => day(at)),
      datasets: [{ label: name, data: past.map(of), borderColor: ink, backgroundColor: ink, borderWidth: 1.5 }],
    },
    options: {
      maintainAspectRatio: false,
      scales: {
        x: {
          ticks: { color: soft, display: withDays },
          grid: { display: false },
          afterFit: (scale: { paddingRight: number }) => void (scale.paddingRight = LABEL_ROOM),
        },
        y: {
          beginAtZero: true,
          title: { display: true, text: name, color: ink },
          ticks: { color: soft, maxTicksLimit: 5 },
          grid: { color: line },
          afterFit: (scale: { width: number }) => void (scale.width = AXIS_WIDTH),
        },
      },
    },
  })
