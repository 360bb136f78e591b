import type { Site, Sweep } from '@unvelt/contract'
import { useChangeSweep, useStartSweep, useSweeps } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Notice } from '../parts/notice.js'
import { toast } from '../parts/toast.js'

/** The ledger before anything was measured: what is known, and the one thing to do. */
export function NoSweep({ site }: { site: Site }) {
  const { data: sweeps = [] } = useSweeps(site.id)
  const start = useStartSweep(site.id)
  const running = sweeps.find((sweep) => sweep.status === 'running')
  const failed = sweeps.find((sweep) => sweep.readingsFailed > 0)
  if (running)
    return (
      <Notice title="The first sweep is under way">
        {plural(site.pages, 'page')} are being read. Rows appear here as soon as the first page is done.
      </Notice>
    )
  return (
    <Notice
      title={failed ? 'No page could be read' : 'Nothing has been weighed yet'}
      action={
        <Button
          weight="main"
          disabled={start.isPending}
          onClick={() => start.mutate(undefined, { onError: (e) => toast.error(e.message) })}
        >
          Sweep {plural(site.pages, 'page')}
        </Button>
      }
    >
      {failed
        ? failed.failures.map(({ reason, paths }) => (
            <p key={reason}>{`${reason} (${plural(paths.length, 'page')})`}</p>
          ))
        : `${whatIsKnown(site)} A sweep loads each page and tells what every add-on costs there.`}
    </Notice>
  )
}

function whatIsKnown({ hasConnector, pagesFrom, addOns, pages }: Site): string {
  if (hasConnector) return `The connector knows ${plural(addOns, 'add-on')} and ${plural(pages, 'page')}.`
  return pagesFrom === 'sitemap'
    ? `The site’s sitemap lists ${plural(pages, 'page')}.`
    : `The site has no sitemap; ${plural(pages, 'page')} ${pages === 1 ? 'was' : 'were'} found by following its links.`
}

/** Which readings failed and why, with the offer to read them again. */
export function FailedReadings({ site, sweep }: { site: Site; sweep: Sweep }) {
  const change = useChangeSweep(site.id)
  if (sweep.failures.length === 0) return null
  const over = sweep.status !== 'running' && sweep.status !== 'paused'
  return (
    <p role="alert" className="border-b border-line px-4 py-1.5 text-plum">
      {plural(sweep.readingsFailed, 'reading')} of {sweep.readings} failed.{' '}
      {sweep.failures
        .map(({ reason, paths }) => `${reason} (${paths.slice(0, 3).join(', ')}${paths.length > 3 ? ' …' : ''})`)
        .join(' ')}{' '}
      {over && (
        <Button
          weight="quiet"
          disabled={change.isPending}
          onClick={() =>
            change.mutate({ sweep: sweep.id, act: 'reread' }, { onError: (error) => toast.error(error.message) })
          }
        >
          Read them again
        </Button>
      )}
    </p>
  )
}
