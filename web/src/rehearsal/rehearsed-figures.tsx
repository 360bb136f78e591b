import type { Measure, RehearsedPage } from '@unvelt/contract'
import type { Sides } from './rehearsal-words.js'
import { MEASURE_WORDS, milliseconds, signed } from '../figures/format.js'

const TIMES: Record<string, string> = {
  loadMs: 'Load event',
  largestPaintMs: 'Largest paint',
  blockingMs: 'Blocking time',
}

/** What was to be spared on a page beside what was. */
export function RehearsedFigures({ page, sides }: { page: RehearsedPage; sides: Sides }) {
  const rows = Object.entries(page.measured).filter(([, { before }]) => before !== null)
  if (rows.length === 0) return null
  const isPredicted = page.predicted !== null
  return (
    <table aria-label="Predicted and measured" className="figures w-full">
      <thead>
        <tr className="border-b border-line text-right text-[12.5px] text-soft">
          <td />
          <th className="py-1 font-normal">{sides.without}</th>
          <th className="py-1 font-normal">{sides.with}</th>
          <th className="py-1 font-normal">measured</th>
          {isPredicted && <th className="py-1 font-normal">predicted</th>}
        </tr>
      </thead>
      <tbody>
        {rows.map(([measure, { before, after, difference, word, more }]) => {
          const isTime = Object.hasOwn(TIMES, measure) || measure === 'mainThreadMs'
          const { name, long } = Object.hasOwn(TIMES, measure)
            ? { name: TIMES[measure]!, long: milliseconds }
            : MEASURE_WORDS[measure as Measure]
          const predicted = page.predicted?.[measure]
          return (
            <tr key={measure} className="border-b border-line/60 text-right">
              <th className="py-1 text-left font-normal">{name}</th>
              <td>{long(before!)}</td>
              <td>{after === null ? '–' : long(after)}</td>
              <td className="font-semibold">
                {after === null ? '–' : more > 0 && isTime ? word : signed(difference ?? after - before!, long)}
              </td>
              {isPredicted && <td className="text-soft">{predicted === undefined ? '–' : signed(-predicted, long)}</td>}
            </tr>
          )
        })}
      </tbody>
    </table>
  )
}
