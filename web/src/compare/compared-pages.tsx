import { createColumnHelper } from '@tanstack/react-table'
import { useMemo } from 'react'
import { Link } from 'react-router'
import type { Comparison, ComparedPage, Site } from '@unvelt/contract'
import { percent } from '../figures/format.js'
import { SortedTable } from '../parts/sorted-table.js'
import { differenceColumns } from './compared-columns.js'

const column = createColumnHelper<ComparedPage>()

interface ComparedPagesProps {
  site: Site
  comparison: Comparison
  onlyThis: (path: string) => void
}

/** On which pages the two differ; and those that only one of them has read. */
export function ComparedPages({ site, comparison, onlyThis }: ComparedPagesProps) {
  const { pages, onlyThen, onlyNow, now } = comparison
  const columns = useMemo(
    () => [
      column.accessor('title', {
        header: 'Page',
        cell: ({ row: { original } }) => (
          <span className="block min-w-52">
            <Link
              className="font-semibold text-verdigris hover:underline"
              to={`/sites/${now.siteId}/pages/${original.id}?sweep=${now.sweepId}`}
            >
              {original.title}
            </Link>
            <button
              type="button"
              className="block text-left text-[12.5px] text-soft hover:text-ink hover:underline"
              title="Compare this page alone"
              onClick={() => onlyThis(original.path)}
            >
              {original.path}
            </button>
          </span>
        ),
      }),
      column.accessor('weight', {
        header: 'Counts for',
        meta: { figure: true },
        cell: ({ getValue }) => percent(getValue()),
      }),
      ...differenceColumns<ComparedPage>(),
    ],
    [now.siteId, now.sweepId, onlyThis],
  )
  return (
    <>
      <SortedTable
        label={`Pages of ${site.name} that differ`}
        rows={pages}
        columns={columns}
        sort={[{ id: 'transferBytes', desc: false }]}
      />
      <Only when="then" paths={onlyThen} />
      <Only when="now" paths={onlyNow} />
    </>
  )
}

const MOST = 12

function Only({ when, paths }: { when: string; paths: string[] }) {
  if (paths.length === 0) return null
  const more = paths.length - MOST
  return (
    <p className="px-4 py-2 text-[13px] text-soft">
      Read only {when}, and left out: {paths.slice(0, MOST).join(', ')}
      {more > 0 && ` and ${more} more`}.
    </p>
  )
}
