import type { ServerWork, WitnessDifferenceView } from '@unvelt/contract'
import { count, milliseconds } from '../figures/format.js'

interface WitnessesProps {
  work: ServerWork
  names: ReadonlyMap<string, string>
}

/** Who told of the server's work: the page's header, its spans, or both, and where they say something else. */
export function Witnesses({ work: { chargedBySpans, differences }, names }: WitnessesProps) {
  if (chargedBySpans)
    return (
      <p className="mt-1 px-4 text-soft">
        The page’s own header tells nothing of the server, so what each add-on is charged comes from these spans.
      </p>
    )
  if (differences === null) return null
  if (differences.length === 0)
    return <p className="mt-1 px-4 text-soft">The page’s header and these spans tell the same.</p>
  return (
    <div role="note" aria-label="Two witnesses" className="mx-4 mt-3 max-w-3xl border-l-2 border-plum pl-3">
      <p>
        The page’s header and these spans tell different things of the same request. What each add-on is charged is what
        the header tells.
      </p>
      <table aria-label="Where they differ" className="figures mt-2">
        <thead>
          <tr className="border-b border-line text-left text-[12.5px] text-soft">
            <th className="py-1 pr-6 font-normal">Add-on</th>
            <th className="py-1 pr-6 text-right font-normal">Header</th>
            <th className="py-1 pr-6 text-right font-normal">Spans</th>
          </tr>
        </thead>
        <tbody>
          {differences.map((one) => (
            <tr key={one.payer} className="border-b border-line/60">
              <td className="py-1 pr-6">{names.get(one.payer) ?? one.payer}</td>
              <Told ms={one.timingMs} queries={one.timingQueries} other={one} />
              <Told ms={one.spansMs} queries={one.spansQueries} other={one} />
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** Queries stand beside the time only where the two count them differently. */
const Told = ({ ms, queries, other }: { ms: number; queries: number; other: WitnessDifferenceView }) => (
  <td className="py-1 pr-6 text-right whitespace-nowrap">
    {milliseconds(ms)}
    {other.timingQueries !== other.spansQueries && <span className="text-soft"> · {count(queries)} queries</span>}
  </td>
)
