import { useCallback } from 'react'
import type { KindToll, PastSweep } from '@unvelt/contract'
import { bytes, count, dateTime, milliseconds, percent } from '../figures/format.js'
import { NotTold } from '../figures/toll-figure.js'
import { Chart, type Inks } from '../parts/chart.js'

const HEAD = 'py-1 pl-3 text-right font-normal'

/** Tolls by kind of payer: what of it is idle in the darker part. */
export function KindChart({ kinds }: { kinds: KindToll[] }) {
  const told = kinds.some(({ serverMs }) => serverMs > 0)
  const small = kinds.every(({ transferBytes }) => transferBytes < 1e6)
  const config = useCallback(
    ({ ink, soft, line, ramp }: Inks) => ({
      type: 'bar' as const,
      data: {
        labels: kinds.map(({ kind }) => kind),
        datasets: [
          {
            label: 'Transfer',
            data: kinds.map((each) => each.transferBytes / (small ? 1e3 : 1e6)),
            backgroundColor: ramp[2],
            barThickness: 12,
          },
        ],
      },
      options: {
        indexAxis: 'y' as const,
        maintainAspectRatio: false,
        scales: {
          x: {
            title: { display: true, text: `${small ? 'KB' : 'MB'} over all pages`, color: soft },
            ticks: { color: soft },
            grid: { color: line },
          },
          y: { ticks: { color: ink, autoSkip: false }, grid: { display: false } },
        },
        plugins: {
          tooltip: { callbacks: { label: ({ raw }: { raw: unknown }) => bytes(Number(raw) * (small ? 1e3 : 1e6)) } },
        },
      },
    }),
    [kinds, small],
  )
  return (
    <Chart title="Transfer by kind" height={26 * kinds.length + 56} config={config}>
      <table className="figures w-full text-[13px]">
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
    </Chart>
  )
}

const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })

/** The middle page over past surveys. */
export function PastChart({ past }: { past: PastSweep[] }) {
  const config = useCallback(
    ({ ink, soft, line, verdigris }: Inks) => ({
      type: 'line' as const,
      data: {
        labels: past.map(({ at }) => day(at)),
        datasets: [
          {
            label: 'Transfer, KB',
            data: past.map((each) => each.transferBytes / 1000),
            borderColor: ink,
            backgroundColor: ink,
            borderWidth: 1.5,
            yAxisID: 'y',
          },
          {
            label: 'Requests',
            data: past.map((each) => each.requests),
            borderColor: verdigris,
            backgroundColor: verdigris,
            borderWidth: 1.5,
            borderDash: [5, 3],
            pointStyle: 'rect' as const,
            yAxisID: 'right',
          },
        ],
      },
      options: {
        maintainAspectRatio: false,
        scales: {
          x: { ticks: { color: soft }, grid: { display: false } },
          y: {
            beginAtZero: true,
            title: { display: true, text: 'Transfer, KB', color: ink },
            ticks: { color: soft },
            grid: { color: line },
          },
          right: {
            position: 'right' as const,
            beginAtZero: true,
            title: { display: true, text: 'Requests (dashed)', color: verdigris },
            ticks: { color: soft },
            grid: { display: false },
          },
        },
      },
    }),
    [past],
  )
  const told = past.some(({ serverMs }) => serverMs > 0)
  const last = past.at(-1)!
  const first = past[0]!
  return (
    <Chart title="The middle page over time" height={190} config={config}>
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
