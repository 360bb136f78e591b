import type { ProofFigure } from '@unvelt/contract'
import { signed } from '../figures/format.js'
import { intervalWords, measureWords, wordOf } from './proof-words.js'

interface FigureRowProps {
  measure: string
  figure: ProofFigure
  running: boolean
  /** The difference that was promised; null where there is none of this measure, undefined where there is of no measure. */
  predicted?: number | null
}

/** One measure before and after: medians, the difference with its interval, and every single reading as a tick. */
export function FigureRow({ measure, figure, running, predicted }: FigureRowProps) {
  const { name, long } = measureWords(measure)
  const { before, after, difference } = figure
  const known = before !== null && after !== null
  return (
    <tr className="border-b border-line/60">
      <th className="py-1.5 text-left font-normal">{name}</th>
      <td className="py-1.5 text-right">{known ? <data value={before}>{long(before)}</data> : '–'}</td>
      <td className="py-1.5 text-right font-semibold">{known ? <data value={after}>{long(after)}</data> : '–'}</td>
      <td className="py-1.5 text-right font-semibold">{known ? signed(difference ?? after - before, long) : '–'}</td>
      {predicted !== undefined && (
        <td className="py-1.5 text-right text-soft">{predicted === null ? '–' : signed(predicted, long)}</td>
      )}
      <td className="py-1.5 pl-6 text-soft">{intervalWords(figure, long)}</td>
      <td className="py-1.5 pl-6">
        <Ticks before={figure.beforeReadings} after={figure.afterReadings} format={long} />
      </td>
      <td className="py-1.5 pl-6">{running ? <span className="text-soft">still reading</span> : wordOf(figure)}</td>
    </tr>
  )
}

/** Readings before above the line, after below it, on one scale from zero. */
function Ticks({ before, after, format }: { before: number[]; after: number[]; format: (value: number) => string }) {
  const most = Math.max(...before, ...after, 0) || 1
  const x = (value: number) => 2 + (value / most) * 136
  const label = `Before: ${before.map(format).join(', ')}. After: ${after.map(format).join(', ')}.`
  return (
    <svg width="140" height="20" role="img" aria-label={label} className="block">
      <title>{label}</title>
      <line x1="0" x2="140" y1="10" y2="10" stroke="var(--line)" />
      {before.map((value, index) => (
        <line key={`b${index}`} x1={x(value)} x2={x(value)} y1="1" y2="9" stroke="var(--ramp-3)" strokeWidth="1.5" />
      ))}
      {after.map((value, index) => (
        <line
          key={`a${index}`}
          x1={x(value)}
          x2={x(value)}
          y1="11"
          y2="19"
          stroke="var(--verdigris)"
          strokeWidth="1.5"
        />
      ))}
    </svg>
  )
}
