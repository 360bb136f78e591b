import { createColumnHelper } from '@tanstack/react-table'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import type { Comparison, ComparedPayer, Site } from '@unvelt/contract'
import { PAGE_OWN } from '../figures/page-own.js'
import { SortedTable } from '../parts/sorted-table.js'
import { differenceColumns } from './compared-columns.js'
import { isChanged } from './is-changed.js'

const column = createColumnHelper<ComparedPayer>()

/** Who makes the mean page cost more or less. The figures add up to the mean page’s. */
export function ComparedPayers({ site, comparison }: { site: Site; comparison: Comparison }) {
  const [all, setAll] = useState(false)
  const { payers, now } = comparison
  const changed = payers.filter(isChanged)
  const same = payers.length - changed.length
  const columns = useMemo(
    () => [
      column.accessor('name', {
        header: 'Who',
        cell: ({ row: { original } }) => <Payer siteId={now.siteId} payer={original} />,
      }),
      ...differenceColumns<ComparedPayer>(),
    ],
    [now.siteId],
  )
  const rows = all ? payers : changed
  if (payers.length === 0) return <p className="px-4 py-4 text-soft">Nobody is charged with anything here.</p>
  return (
    <>
      {rows.length === 0 ? (
        <p className="px-4 py-3">Nobody asks for more or less than then.</p>
      ) : (
        <SortedTable
          label={`Who differs on ${site.name}`}
          rows={rows}
          columns={columns}
          sort={[{ id: 'transferBytes', desc: false }]}
        />
      )}
      {same > 0 && (
        <button
          type="button"
          className="px-4 py-2 text-[13px] text-verdigris hover:underline"
          onClick={() => setAll(!all)}
        >
          {all ? 'Only those that differ' : `And ${same} that differ in times at most`}
        </button>
      )}
    </>
  )
}

function Payer({ siteId, payer: { slug, name, kind, change, from, to } }: { siteId: number; payer: ComparedPayer }) {
  return (
    <span className="block min-w-44">
      {PAGE_OWN.includes(slug) ? (
        <span className="font-semibold">{name}</span>
      ) : (
        <Link
          className="font-semibold text-verdigris hover:underline"
          to={`/sites/${siteId}/add-ons/${encodeURIComponent(slug)}`}
        >
          {name}
        </Link>
      )}
      <span className="block text-[12.5px] text-soft">{changeWords(change, from, to) ?? kind}</span>
    </span>
  )
}

function changeWords(change: ComparedPayer['change'], from: string | null, to: string | null): string | null {
  switch (change) {
    case 'come':
      return `has come${to ? `, ${to}` : ''}`
    case 'gone':
      return `is gone${from ? `, was ${from}` : ''}`
    case 'updated':
      return `updated, ${from ?? 'unknown'} → ${to ?? 'unknown'}`
    default:
      return change
  }
}
