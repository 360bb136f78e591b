import { stringify } from 'csv-stringify/browser/esm/sync'
import { MEASURES, type ComparedFigures, type Comparison } from '@unvelt/contract'

/** Every payer's and every page's figures a line. A text that a spreadsheet would take for a formula is none. */
export function comparisonCsv({ payers, pages, then, now }: Comparison): string {
  const lines = [
    ...payers.map(({ slug, name, ...row }) => ({ of: 'payer', id: slug, name, ...figuresOf(row) })),
    ...pages.map(({ path, title, ...row }) => ({ of: 'page', id: path, name: title, ...figuresOf(row) })),
  ].map((line) => ({ then: then.sweepId, now: now.sweepId, ...line }))
  return stringify(lines, { header: true, bom: true, escape_formulas: true })
}

const figuresOf = ({ then, now }: ComparedFigures): Record<string, number> =>
  Object.fromEntries(
    MEASURES.flatMap((measure) => [
      [`${measure} then`, then[measure]],
      [`${measure} now`, now[measure]],
    ]),
  )
