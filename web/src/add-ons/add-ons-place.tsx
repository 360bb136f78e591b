import { useMemo } from 'react'
import { useSearchParams } from 'react-router'
import { useAddOns } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { useSheet } from '../ledger/use-sheet.js'
import { Failed, Loading } from '../parts/notice.js'
import { PlaceHead } from '../parts/place-head.js'
import { ViewNav } from '../parts/view-nav.js'
import { AddOnTable } from './add-on-table.js'
import { InventoryMenu } from './inventory-menu.js'
import { rowsOf, type Row } from './rows.js'
import { SameJobs } from './same-jobs.js'
import { Undecided } from './undecided.js'

const VIEWS = [
  ['all', 'All'],
  ['undecided', 'Undecided'],
  ['jobs', 'Same job'],
] as const

/** Everything the site loads, active or not, and what is known and decided of it. */
export function AddOnsPlace() {
  const site = useSite()
  const [search, setSearch] = useSearchParams()
  const addOns = useAddOns(site.id)
  const { ledger, sheet, error: failed } = useSheet(site.id, search.get('sweep'))
  const rows = useMemo(() => rowsOf(site.id, addOns.data ?? [], sheet), [site.id, addOns.data, sheet])
  const error = addOns.error ?? failed
  if (error) return <Failed error={error} retry={() => void Promise.all([addOns.refetch(), ledger.refetch()])} />
  if (!addOns.data || !ledger.data || (ledger.data.sweep && !sheet)) return <Loading what="the add-ons" />
  const view = VIEWS.find(([key]) => key === search.get('view'))?.[0] ?? 'all'
  const counts: Record<(typeof VIEWS)[number][0], number> = {
    all: rows.length,
    undecided: undecided(rows).length,
    jobs: sharedJobs(rows).length,
  }
  const read = ledger.data.pages.length - ledger.data.unreadPages.length
  return (
    <div className="flex h-full flex-col">
      <PlaceHead title="Add-ons" action={<InventoryMenu site={site} />}>
        {plural(rows.length, 'add-on')}. Figures are summed over{' '}
        {ledger.data.sweep ? `the ${plural(read, 'page')} that sweep ${ledger.data.sweep.id} read` : 'no page yet'}.
      </PlaceHead>
      <ViewNav
        label="Lists"
        shown={view}
        views={VIEWS.map(([key, name]) => ({
          key,
          name,
          more: <span className="figures font-normal text-soft">{counts[key]}</span>,
        }))}
      />
      <div className="min-h-0 flex-1">
        {view === 'undecided' ? (
          <Undecided rows={undecided(rows)} />
        ) : view === 'jobs' ? (
          <SameJobs rows={rows} jobs={sharedJobs(rows)} />
        ) : (
          <AddOnTable
            rows={rows}
            text={search.get('q') ?? ''}
            onText={(text) =>
              setSearch(
                (old) => {
                  const next = new URLSearchParams(old)
                  if (text) next.set('q', text)
                  else next.delete('q')
                  return next
                },
                { replace: true },
              )
            }
          />
        )}
      </div>
    </div>
  )
}

/** What nobody has decided on, heaviest first; the theme and the CMS's own parts are not up for decision. */
const undecided = (rows: Row[]): Row[] =>
  rows
    .filter(({ verdict, gone, kind }) => verdict.verdict === 'undecided' && !gone && kind !== 'theme')
    .sort((a, b) => b.figures.decodedBytes - a.figures.decodedBytes || a.name.localeCompare(b.name))

/** Jobs that more than one add-on does. */
function sharedJobs(rows: Row[]): string[] {
  const counts = new Map<string, number>()
  for (const { jobs, gone } of rows) if (!gone) for (const job of jobs) counts.set(job, (counts.get(job) ?? 0) + 1)
  return [...counts].filter(([, count]) => count > 1).map(([job]) => job)
}
