import type { Measure, RehearsalSheet } from '@unvelt/contract'
import { MEASURE_WORDS, plural, signed } from '../figures/format.js'

const TOLD: Measure[] = ['requests', 'transferBytes', 'decodedBytes']

/** What the drafts came to on the views that were read, as a mean of them. */
export function MeasuredGain({ sheet }: { sheet: RehearsalSheet }) {
  const read = sheet.each.filter(({ state, measured }) => state === 'done' && Object.keys(measured).length > 0)
  const figures = TOLD.flatMap((measure) => {
    const pairs = read.flatMap(({ measured }) => {
      const { before, after } = measured[measure] ?? { before: null, after: null }
      return before === null || after === null ? [] : [after - before]
    })
    const mean = pairs.reduce((sum, each) => sum + each, 0) / Math.max(1, pairs.length)
    return pairs.length === 0 ? [] : [{ measure, mean }]
  })
  if (figures.length === 0) return null
  return (
    <div className="flex flex-wrap items-baseline gap-x-8 gap-y-1 border-b border-line px-4 py-2">
      <dl aria-label="Measured gain" className="flex flex-wrap items-baseline gap-x-8">
        {figures.map(({ measure, mean }) => (
          <div key={measure} className="flex items-baseline gap-2">
            <dt className="text-[13px] text-soft">{MEASURE_WORDS[measure].name}</dt>
            <dd className="figures font-serif text-[17px] font-semibold">
              {signed(mean, measure === 'requests' ? (n) => n.toFixed(1) : MEASURE_WORDS[measure].long)}
            </dd>
          </div>
        ))}
      </dl>
      <span className="text-[13px] text-soft">a view, measured on {plural(read.length, 'view')}</span>
    </div>
  )
}
