import { createColumnHelper } from '@tanstack/react-table'
import { useMemo } from 'react'
import { DEFAULT_TRIES, type ActionsView, type ActionView, type Site } from '@unvelt/contract'
import { bytes, count, dateTime, milliseconds, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { SortedTable } from '../parts/sorted-table.js'
import { toast } from '../parts/toast.js'
import { useTryActions } from './queries.js'
import { TraceLink } from './trace-link.js'

const column = createColumnHelper<ActionView>()
const MOST_NAMED = 3

interface Props {
  site: Site
  view: ActionsView
  names: ReadonlyMap<string, string>
}

/** What visitors and editors do, as the server sees it. */
export function ActionsPart({ site, view, names }: Props) {
  const attempt = useTryActions(site.id)
  const columns = useMemo(
    () => [
      column.accessor('name', {
        header: 'Action',
        cell: ({ row: { original } }) => (
          <>
            <span className="font-semibold">{original.name}</span>
            <span className="block text-[12.5px] text-soft">
              {original.method} {original.path}
              {original.as !== 'visitor' && `, as ${original.as}`}
            </span>
          </>
        ),
      }),
      column.accessor((row) => row.work?.firstByte.median ?? -1, {
        id: 'answer',
        header: 'First byte',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ row: { original } }) => <Answer action={original} />,
      }),
      column.accessor((row) => row.work?.siteMs ?? -1, {
        id: 'site',
        header: 'Site’s own work',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() < 0 ? '–' : milliseconds(getValue())),
      }),
      column.accessor((row) => queriesOf(row), {
        id: 'queries',
        header: 'Queries',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => count(getValue()),
      }),
      column.accessor((row) => row.peakMemoryBytes ?? -1, {
        id: 'memory',
        header: 'Memory',
        meta: { figure: true },
        sortDescFirst: true,
        cell: ({ getValue }) => (getValue() < 0 ? <span className="text-soft">not told</span> : bytes(getValue())),
      }),
      column.display({
        id: 'payers',
        header: 'Mostly',
        cell: ({ row: { original } }) => mostly(original, names),
      }),
      column.display({
        id: 'trace',
        header: 'Slowest try',
        cell: ({ row: { original } }) => (
          <TraceLink site={site.id} trace={original.slowestTrace}>
            Look into it
          </TraceLink>
        ),
      }),
    ],
    [names, site.id],
  )
  const tries = Math.max(0, ...view.actions.map(({ work }) => work?.firstByte.count ?? 0))
  const { cannot, underWay, takenAt, failure, actions } = view
  return (
    <section aria-label="Actions" className="py-4">
      <div className="flex items-start justify-between gap-8 px-4">
        <div>
          <h2 className="text-[17px]">Actions</h2>
          <p className="max-w-3xl text-soft">
            {cannot ??
              (takenAt
                ? `Tried ${dateTime(takenAt)}, each ${plural(tries, 'time')} in turn; figures are the middle. The site took all of it back.`
                : 'What visitors and editors do beyond looking at pages. The site carries each out for real, every add-on included, and takes all of it back.')}
          </p>
        </div>
        {!cannot && (
          <Button
            disabled={underWay > 0 || attempt.isPending}
            onClick={() => attempt.mutate(undefined, { onError: (error) => toast.error(error.message) })}
          >
            {underWay > 0 ? `${plural(underWay, 'request')} to come` : `Try each ${DEFAULT_TRIES} times`}
          </Button>
        )}
      </div>
      {failure && <p className="mt-2 px-4 text-plum">{failure}</p>}
      {actions.length > 0 && (
        <div className="mt-2">
          <SortedTable label="Actions" rows={actions} columns={columns} sort={[{ id: 'answer', desc: true }]} />
        </div>
      )}
    </section>
  )
}

function Answer({ action: { work, failure, failed } }: { action: ActionView }) {
  if (!work) return <span className="text-plum">{failure ?? 'not tried yet'}</span>
  const { median, least, most } = work.firstByte
  return (
    <>
      <span className="font-semibold">{milliseconds(median)}</span>
      <span className="block text-[12.5px] text-soft">
        {milliseconds(least)} to {milliseconds(most)}
        {failed > 0 && <span className="text-plum"> · {failed} failed</span>}
      </span>
    </>
  )
}

const queriesOf = ({ work }: ActionView) => (work?.payers ?? []).reduce((sum, { queries }) => sum + queries, 0)

function mostly({ work }: ActionView, names: ReadonlyMap<string, string>): string {
  const payers = (work?.payers ?? []).filter(({ serverMs }) => serverMs > 0.02 * (work?.siteMs ?? Infinity))
  const named = payers
    .slice(0, MOST_NAMED)
    .map(({ payer, serverMs }) => `${names.get(payer) ?? payer} ${milliseconds(serverMs)}`)
  const more = payers.length - named.length
  return [...named, ...(more > 0 ? [`${more} more`] : [])].join(', ')
}
