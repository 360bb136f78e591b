import { createColumnHelper } from '@tanstack/react-table'
import { useMemo } from 'react'
import { useSearchParams } from 'react-router'
import type { AddOn, Ledger } from '@unvelt/contract'
import { useAddOns, useLedger } from '../api/queries.js'
import { MEASURE_WORDS, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { buildMatrix, noFigures, type Figures } from '../ledger/matrix.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { SortedTable } from '../parts/sorted-table.js'

interface Row extends AddOn {
  pages: number
  figures: Figures
}

const column = createColumnHelper<Row>()
const figure = (measure: keyof Figures) =>
  column.accessor((row) => row.figures[measure], {
    id: measure,
    header: MEASURE_WORDS[measure].name,
    meta: { figure: true },
    cell: ({ getValue }) =>
      getValue() === 0 ? <span className="text-soft">·</span> : MEASURE_WORDS[measure].long(getValue()),
  })

const COLUMNS = [
  column.accessor('name', {
    header: 'Add-on',
    cell: ({ row: { original } }) => (
      <>
        <span className="font-semibold">{original.name}</span>
        <span className="block text-[12.5px] text-soft">{original.summary}</span>
      </>
    ),
  }),
  column.accessor('kind', { header: 'Kind' }),
  column.accessor((row) => row.version ?? '', { id: 'version', header: 'Version' }),
  column.accessor((row) => (row.source === 'connector' ? 'connector' : 'a reading'), {
    id: 'source',
    header: 'Known from',
  }),
  column.accessor('pages', { header: 'Pages', meta: { figure: true } }),
  figure('requests'),
  figure('transferBytes'),
  figure('serverMs'),
  figure('queries'),
]

/** Everything the site loads, with what it costs over all pages that were read. */
export function AddOnsPlace() {
  const site = useSite()
  const [search] = useSearchParams()
  const addOns = useAddOns(site.id)
  const ledger = useLedger(site.id, search.get('sweep'))
  const rows = useMemo(
    () => (addOns.data && ledger.data ? rowsOf(addOns.data, ledger.data) : []),
    [addOns.data, ledger.data],
  )
  const error = addOns.error ?? ledger.error
  if (error) return <Failed error={error} retry={() => void Promise.all([addOns.refetch(), ledger.refetch()])} />
  if (!addOns.data || !ledger.data) return <Loading what="the add-ons" />
  return (
    <div className="flex h-full flex-col">
      <PlaceHead title="Add-ons">
        {plural(rows.length, 'add-on')}. Figures are summed over{' '}
        {plural(ledger.data.pages.length - ledger.data.unreadPages.length, 'page')} that{' '}
        {ledger.data.sweep ? `sweep ${ledger.data.sweep.id} read` : 'no sweep has read yet'}.
      </PlaceHead>
      <div className="min-h-0 flex-1 overflow-auto">
        <SortedTable label="Add-ons" rows={rows} columns={COLUMNS} sort={[{ id: 'transferBytes', desc: true }]} />
      </div>
    </div>
  )
}

function rowsOf(addOns: AddOn[], ledger: Ledger): Row[] {
  const matrix = buildMatrix(ledger)
  return addOns.map((addOn) => {
    const row = matrix.rows.findIndex((payer) => payer.slug === addOn.slug)
    const onPage = (column: number) => Object.values(matrix.cell(row, column) ?? {}).some((value) => value > 0)
    return {
      ...addOn,
      pages: row < 0 ? 0 : matrix.columns.filter((_, index) => onPage(index)).length,
      figures: row < 0 ? noFigures() : matrix.rowTotals[row]!,
    }
  })
}
