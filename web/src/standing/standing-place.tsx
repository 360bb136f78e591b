import type { ReactNode } from 'react'
import { useEffect } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Standing } from '@unvelt/contract'
import { useStanding } from '../api/queries.js'
import { ConsentLine } from '../consent/consent-line.js'
import { bytes, count, milliseconds, percent, plural } from '../figures/format.js'
import { useSite } from '../frame/site-context.js'
import { NoSweep } from '../ledger/no-sweep.js'
import { WaitBar } from '../pages/wait-bar.js'
import { Failed, Loading } from '../parts/notice.js'
import { rememberSite } from '../sites/first-site.js'
import { Changes } from './changes.js'
import { KindBars, PastChart } from './charts.js'
import { Moves } from './moves.js'
import { Noise } from './noise.js'
import { NewComplaints } from './new-complaints.js'
import { StillArrives } from './still-arrives.js'

/** Where the site stands, in a few sentences with figures, and what to do next. */
export function StandingPlace() {
  const site = useSite()
  const [search] = useSearchParams()
  const { data, error, refetch } = useStanding(site.id, search.get('sweep'))
  useEffect(() => rememberSite(site.id), [site.id])
  if (error) return <Failed error={error} retry={() => void refetch()} />
  if (!data) return <Loading what="the standing" />
  if (!data.sweep) return <NoSweep site={site} />
  return (
    <div className="h-full overflow-auto">
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(320px,0.62fr)] max-md:grid-cols-[minmax(0,1fr)]">
        <div className="min-w-0 px-6 pt-5 pb-12">
          <Sentences standing={data} />
          <ConsentLine siteId={site.id} />
          <StillArrives siteId={site.id} />
          <NewComplaints siteId={site.id} sweep={search.get('sweep')} />
          <Noise site={site} standing={data} />
          <Moves site={site} standing={data} />
        </div>
        <aside
          aria-label="Figures"
          className="min-w-0 space-y-7 border-l border-line px-6 pt-5 pb-12 max-md:border-t max-md:border-l-0"
        >
          {data.wait && (
            <section aria-label="Where the wait goes">
              <h2 className="text-[17px]">Where the wait goes</h2>
              <p className="mb-2 text-[13px] text-soft">
                The middle of the {plural(data.waitPages, 'most visited page')}, until the load event.
                {data.wait.cms === 0 &&
                  data.wait.addOnsOnServer === 0 &&
                  ' What the site’s server does is not told, and counts as host and network.'}
              </p>
              <WaitBar wait={data.wait} />
            </section>
          )}
          <Changes site={site} standing={data} />
          <KindBars kinds={data.kinds} />
          {data.past.length > 1 && <PastChart past={data.past} />}
        </aside>
      </div>
    </div>
  )
}

function Sentences({ standing }: { standing: Standing }) {
  const site = useSite()
  const { middle, addOns, pagesRead, outsideHosts, unassignedRequests, openQuestions } = standing
  const to = (path: string) => `/sites/${site.id}/${path}`
  return (
    <div className="max-w-3xl font-serif text-[19px] leading-[1.45]">
      <h1 className="sr-only">Standing of {site.name}</h1>
      <p>
        The middle page of {count(pagesRead)} makes <B>{plural(Math.round(middle.requests), 'request')}</B> and
        transfers <B>{bytes(middle.transferBytes)}</B>
        {middle.loadMs !== null && (
          <>
            ; its load event comes after <B>{milliseconds(middle.loadMs)}</B>
          </>
        )}
        .{' '}
        {middle.decodedBytes > 0 && (
          <>
            Of its code and text, <B>{percent(middle.idleBytes / middle.decodedBytes)}</B> comes and is never run or
            applied.
          </>
        )}
      </p>
      <p className="mt-2">
        <A to={to('add-ons')}>{plural(addOns.active, 'add-on')}</A> of {addOns.all} are switched on:{' '}
        <B>{addOns.seenInUse}</B> seen in use, <B>{addOns.notSeen}</B> seen in use nowhere, {addOns.worksUnseen} working
        unseen, and of <B>{addOns.notKnown}</B> it is not known.{' '}
        {outsideHosts > 0 && (
          <>
            Pages may ask <A to={to('outside')}>{plural(outsideHosts, 'outside host')}</A>.
          </>
        )}
      </p>
      <p className="mt-2">
        {addOns.undecided > 0 ? (
          <>
            <A to={to('add-ons?view=undecided')}>{plural(addOns.undecided, 'add-on')}</A>{' '}
            {addOns.undecided === 1 ? 'is' : 'are'} undecided
          </>
        ) : (
          'Everything has been decided'
        )}
        {openQuestions > 0 && (
          <>
            , {plural(openQuestions, 'question')} {openQuestions === 1 ? 'waits' : 'wait'} for an answer
          </>
        )}
        {unassignedRequests > 0 && (
          <>
            , and <B>{plural(unassignedRequests, 'request')}</B> could be charged to nobody
          </>
        )}
        .
      </p>
    </div>
  )
}

const B = ({ children }: { children: ReactNode }) => <b className="figures font-semibold">{children}</b>
const A = ({ to, children }: { to: string; children: ReactNode }) => (
  <Link to={to} className="figures font-semibold text-verdigris hover:underline">
    {children}
  </Link>
)
