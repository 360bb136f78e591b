import { useEffect, useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { toast } from 'sonner'
import {
  MEASURES,
  type AddOn,
  type Effect,
  type Ledger,
  type LedgerPayer,
  type Measure,
  type Site,
} from '@unvelt/contract'
import { useAddOns, useChangeDrafts, useChangeSweep, useLedger, useStartSweep, useSweeps } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { Button } from '../parts/button.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { rememberSite } from '../sites/first-site.js'
import { LedgerGrid } from './ledger-grid.js'
import { MeasurePicker } from './measure-picker.js'
import { Particulars } from './particulars.js'
import { rulesFor, type Selection } from './selection.js'
import { useMatrix } from './use-matrix.js'

/** The ledger with its particulars. The measure lives in the address. */
export function LedgerPlace() {
  const site = useSite()
  const [search, setSearch] = useSearchParams()
  const ledger = useLedger(site.id, search.get('sweep'))
  useEffect(() => rememberSite(site.id), [site.id])
  const asked = search.get('measure')
  const measure = MEASURES.find((m) => m === asked) ?? 'transferBytes'
  const setMeasure = (value: Measure) =>
    setSearch((old) => new URLSearchParams({ ...Object.fromEntries(old), measure: value }), { replace: true })
  if (ledger.isPending) return <Loading what="the ledger" />
  if (ledger.isError) return <Failed error={ledger.error} retry={() => void ledger.refetch()} />
  if (!ledger.data.sweep) return <NoSweep site={site} />
  return <LedgerOf site={site} ledger={ledger.data} measure={measure} onMeasure={setMeasure} />
}

function NoSweep({ site }: { site: Site }) {
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
          Sweep {site.pages} pages
        </Button>
      }
    >
      {failed
        ? failed.failures.map(({ reason, paths }) => (
            <p key={reason}>{`${reason} (${plural(paths.length, 'page')})`}</p>
          ))
        : `The connector knows ${plural(site.addOns, 'add-on')} and ${plural(site.pages, 'page')}. A sweep loads each page and tells what every add-on costs there.`}
    </Notice>
  )
}

interface LedgerOfProps {
  site: Site
  ledger: Ledger
  measure: Measure
  onMeasure(measure: Measure): void
}

function LedgerOf({ site, ledger, measure, onMeasure }: LedgerOfProps) {
  const matrix = useMatrix(ledger, measure)
  const [selection, setSelection] = useState<Selection | null>(null)
  const { data: addOns = [] } = useAddOns(site.id)
  const change = useChangeDrafts(site.id)
  const sweep = useChangeSweep(site.id)
  const rules = useMemo(
    () => (selection ? rulesFor(selection, matrix.rows, matrix.columns, strongest(site, addOns)) : []),
    [selection, matrix, site, addOns],
  )
  const leaveOut = () => {
    if (rules.length === 0) return
    change.mutate({ do: 'add', rules }, { onError: (error) => toast.error(error.message) })
  }
  const failed = ledger.sweep!.failures
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_316px]">
      <section className="flex min-h-0 min-w-0 flex-col">
        <div className="flex items-center border-b border-line px-4">
          <MeasurePicker measure={measure} onChange={onMeasure} />
        </div>
        {failed.length > 0 && (
          <p role="alert" className="border-b border-line px-4 py-1.5 text-plum">
            {plural(ledger.sweep!.readingsFailed, 'reading')} of {ledger.sweep!.readings} failed.{' '}
            {failed
              .map(({ reason, paths }) => `${reason} (${paths.slice(0, 3).join(', ')}${paths.length > 3 ? ' …' : ''})`)
              .join(' ')}{' '}
            {ledger.sweep!.status !== 'running' && ledger.sweep!.status !== 'paused' && (
              <Button
                weight="quiet"
                disabled={sweep.isPending}
                onClick={() =>
                  sweep.mutate(
                    { sweep: ledger.sweep!.id, act: 'reread' },
                    { onError: (error) => toast.error(error.message) },
                  )
                }
              >
                Read them again
              </Button>
            )}
          </p>
        )}
        <div className="min-h-0 flex-1">
          <LedgerGrid
            matrix={matrix}
            measure={measure}
            selection={selection}
            onSelect={setSelection}
            onLeaveOut={leaveOut}
          />
        </div>
      </section>
      <aside aria-label="Particulars" className="min-h-0 border-l border-line bg-sheet">
        <Particulars site={site} matrix={matrix} selection={selection} leaveOutRules={rules} onLeaveOut={leaveOut} />
      </aside>
    </div>
  )
}

/** Leaving out means the most the site can do: not running the add-on, or else keeping its files out. */
function strongest(site: Site, addOns: AddOn[]): (payer: LedgerPayer) => Effect {
  return ({ slug }) =>
    site.effects.includes('skip') && addOns.find((addOn) => addOn.slug === slug)?.canSkip ? 'skip' : 'leave-out'
}
