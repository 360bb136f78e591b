import type { Measure } from '@unvelt/contract'
import { MEASURE_WORDS } from './format.js'

/** A figure below a heading that says already what is counted. */
export const brief = (measure: Measure, value: number) =>
  MEASURE_WORDS[measure].long(value).replace(/ (requests?|query|queries)$/, '')

/** What a site doesn't tell is no 0. */
export const NotTold = () => (
  <span className="font-normal text-soft" title="The site doesn’t tell what its server does">
    not told
  </span>
)

interface TollFigureProps {
  measure: Measure
  value: number
  told: boolean
  /** In tables, where a nothing would only hide the rest. */
  dotted?: boolean
}

export function TollFigure({ measure, value, told, dotted = false }: TollFigureProps) {
  if (!told) return <NotTold />
  if (dotted && value === 0) return <span className="text-soft">·</span>
  return <data value={value}>{brief(measure, value)}</data>
}
