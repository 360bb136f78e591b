import { createColumnHelper, type ColumnDef } from '@tanstack/react-table'
import type { ComparedFigures, Measure } from '@unvelt/contract'
import { MEASURE_WORDS, signed } from '../figures/format.js'
import { ofMean } from './of-mean.js'

/** What is told of each row; the rest of the measures stands in the mean page's table. */
const SHOWN: Measure[] = ['requests', 'transferBytes', 'idleBytes', 'mainThreadMs', 'serverMs', 'queries']

/** The difference in each measure, less before more where it is sorted upwards. */
export function differenceColumns<Row extends ComparedFigures>(): ColumnDef<Row, number>[] {
  const column = createColumnHelper<Row>()
  return SHOWN.map((measure) =>
    column.accessor((row: Row) => row.now[measure] - row.then[measure], {
      id: measure,
      header: MEASURE_WORDS[measure].name,
      meta: { figure: true },
      sortDescFirst: false,
      // By size: what fell most and what grew most are both found at the top.
      sortingFn: (a, b) => Math.abs(b.getValue<number>(measure)) - Math.abs(a.getValue<number>(measure)),
      cell: ({ getValue, row: { original } }) => (
        <DifferenceFigure measure={measure} value={getValue()} of={original} />
      ),
    }),
  ) as ColumnDef<Row, number>[]
}

function DifferenceFigure({ measure, value, of }: { measure: Measure; value: number; of: ComparedFigures }) {
  const format = ofMean(measure)
  const text = signed(value, format)
  const title = `${format(of.then[measure])} then, ${format(of.now[measure])} now`
  // What rounds to nothing is nothing to look at.
  return /^[+−]/.test(text) ? (
    <span title={title}>{text}</span>
  ) : (
    <span title={title} className="text-soft">
      ·
    </span>
  )
}
