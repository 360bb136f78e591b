import { useState } from 'react'
import type { NowhereView as View, Site } from '@unvelt/contract'
import { useLookThrough, useNowhere } from '../api/nowhere.js'
import { bytes, dateTime, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { Failed, Loading } from '../parts/notice.js'
import { toast } from '../parts/toast.js'
import { lookedForWords } from './nowhere-words.js'
import { NeverRan } from './never-ran.js'
import { NowhereTable } from './nowhere-table.js'
import { saveCleaned } from './save-cleaned.js'

/** What of the site's stylesheets and scripts no page and no step has used, what of it may go, and the files without that. */
export function NowhereView({ site, payers }: { site: Site; payers: ReadonlyMap<string, string> }) {
  const nowhere = useNowhere(site.id)
  const look = useLookThrough(site.id)
  if (nowhere.isError) return <Failed error={nowhere.error} retry={() => void nowhere.refetch()} />
  if (!nowhere.data) return <Loading what="what is used nowhere" />
  const { data } = nowhere
  const ask = (act: 'look' | 'stop') => look.mutate(act, { onError: (error) => toast.error(error.message) })
  return (
    <div className="py-4">
      <div className="px-4">
        <p className="max-w-3xl text-soft">
          Holds each stylesheet and each script against what any page and any step has used of it. What a state, a
          medium or a script may bring (the pointer, a field in error, paper, a class that is set later) is kept and
          counted apart; rules that nothing speaks for can go. Functions that never ran are named, and left as they are.
        </p>
        <div className="mt-3 flex flex-wrap items-center gap-4">
          {data.underWay ? (
            <>
              <p role="status" className="py-1.5">
                {data.toLookAt === null
                  ? 'Reading the scripts …'
                  : `${data.looked} of ${plural(data.toLookAt, 'file')} …`}
              </p>
              <Button disabled={look.isPending} onClick={() => ask('stop')}>
                Stop
              </Button>
            </>
          ) : (
            <>
              <Button weight="main" disabled={look.isPending || data.sweepId === null} onClick={() => ask('look')}>
                {data.takenAt === null ? 'Look what is used nowhere' : 'Look again'}
              </Button>
              <span className="text-[13px] text-soft">{stateWords(data)}</span>
            </>
          )}
        </div>
        {data.failure && (
          <p role="alert" className="mt-2 text-plum">
            {data.failure}
          </p>
        )}
      </div>
      {data.files.length > 0 && <Found site={site} data={data} payers={payers} />}
    </div>
  )
}

function stateWords({ takenAt, sweepId, isOld }: View): string {
  if (sweepId === null) return 'No page has been read yet.'
  if (takenAt === null) return 'Asks the site for its scripts and styles once more; no page is loaded.'
  return `${dateTime(takenAt)}, of sweep ${sweepId}${isOld ? '; a newer one has been read since' : ''}.`
}

function Found({ site, data, payers }: { site: Site; data: View; payers: ReadonlyMap<string, string> }) {
  const [isSaving, setSaving] = useState(false)
  const styles = data.files.filter(({ type }) => type === 'style')
  const scripts = data.files.filter(({ type }) => type === 'script')
  const matters = styles.filter(({ spared }) => spared > 0 && spared > data.leastBytes)
  const rest = styles.filter((file) => !matters.includes(file))
  const together = matters.reduce((sum, { spared }) => sum + spared, 0)
  const own = styles.filter(({ isOwn, cleanedWire, wire }) => isOwn && cleanedWire !== null && cleanedWire < wire)
  const shared = { site, payers, takenAt: data.takenAt, takesCopies: data.takesCopies }
  const save = async () => {
    setSaving(true)
    try {
      await saveCleaned(site.id, own)
    } catch (error) {
      toast.error((error as Error).message)
    } finally {
      setSaving(false)
    }
  }
  return (
    <section aria-label="Used nowhere" className="mt-5">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2 px-4">
        <p className="max-w-3xl flex-1">
          {matters.length === 0
            ? 'Nothing that is used nowhere is worth the work.'
            : `${bytes(together)} could be spared in 1,000 page views by ${plural(matters.length, 'stylesheet')}.`}{' '}
          <span className="text-soft">
            {lookedForWords(data)}
            {!data.byViews && ' Every page counts alike, since no views are known.'}
          </span>
        </p>
        {own.length > 0 && (
          <Button disabled={isSaving} onClick={() => void save()}>
            {isSaving ? 'Packing …' : `Save ${plural(own.length, 'cleaned file')}`}
          </Button>
        )}
      </div>
      {matters.length > 0 && (
        <div className="mt-2">
          <NowhereTable label="Could go" files={matters} {...shared} />
        </div>
      )}
      {rest.length > 0 && (
        <details className="mt-3" open={matters.length === 0}>
          <summary className="cursor-pointer px-4 text-soft hover:text-ink">
            {plural(rest.length, 'stylesheet')} of which{' '}
            {data.leastBytes > 0 ? `no more than ${bytes(data.leastBytes)}` : 'nothing'} in 1,000 page views could be
            spared
          </summary>
          <NowhereTable label="As it is needed" files={rest} {...shared} />
        </details>
      )}
      {scripts.length > 0 && <NeverRan files={scripts} {...shared} />}
    </section>
  )
}
