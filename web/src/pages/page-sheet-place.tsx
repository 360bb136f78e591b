import { useMemo } from 'react'
import { Tabs } from 'radix-ui'
import { Link, useParams, useSearchParams } from 'react-router'
import type { PageRequest, PageSheet, Site } from '@unvelt/contract'
import { useLedger, usePageSheet } from '../api/queries.js'
import { bytes, milliseconds, plural } from '../figures/format.js'
import { ReadNext } from '../frame/read-next.js'
import { useSite } from '../frame/site-context.js'
import { Failed, Loading, Notice } from '../parts/notice.js'
import { StaleLine } from '../stale/stale-line.js'
import { CouldWeighFiles } from '../file-look/could-weigh-files.js'
import { LatePaint } from '../picture-look/late-paint.js'
import { PicturesTab } from '../picture-look/pictures-tab.js'
import { ComplaintsView } from '../complaints/complaints-view.js'
import { FacesView } from './faces-view.js'
import { FilesView } from './files-view.js'
import { LoadLanes } from './load-lanes.js'
import { PAGE_VIEWS, type PageView } from './page-views.js'
import { pageTotals } from './page-totals.js'
import { PictureView } from './picture-view.js'
import { StepsView } from './steps-view.js'
import { ServerReadingsPart } from './server-readings-part.js'
import { ServerView } from './server-view.js'
import { WithoutTab } from './without-view.js'
import { WaitBar } from './wait-bar.js'

const TIMINGS: [string, string][] = [
  ['ttfb', 'First byte'],
  ['firstContentfulPaint', 'First paint'],
  ['largestContentfulPaint', 'Largest paint'],
  ['load', 'Load event'],
  ['quiet', 'Network quiet'],
  ['answers', 'Answers to touch'],
  ['totalBlockingTime', 'Blocking time'],
]

/** One page: when things happened, and its load over time in lanes by payer. */
export function PageSheetPlace() {
  const site = useSite()
  const id = Number(useParams().page)
  const [search] = useSearchParams()
  const ledger = useLedger(site.id, search.get('sweep'))
  const sheet = usePageSheet(site.id, id, ledger.data?.sweep?.id)
  if (ledger.isError) return <Failed error={ledger.error} retry={() => void ledger.refetch()} />
  if (ledger.data && !ledger.data.sweep)
    return <Notice title="This page has not been read yet">Sweep the site first.</Notice>
  if (sheet.isError) return <Failed error={sheet.error} retry={() => void sheet.refetch()} />
  if (!sheet.data || !ledger.data) return <Loading what="the page" />
  const names = new Map(ledger.data.payers.map((payer) => [payer.slug, payer.name]))
  return <Sheet site={site} sheet={sheet.data} names={names} />
}

function Sheet({ site, sheet, names }: { site: Site; sheet: PageSheet; names: Map<string, string> }) {
  const totals = useMemo(() => pageTotals(sheet.requests), [sheet])
  const [search, setSearch] = useSearchParams()
  const complaints = new Set([...sheet.consoleErrors, ...sheet.requests.filter(cameToNothing).map(({ url }) => url)])
    .size
  const asked = search.get('view')
  const view: PageView = PAGE_VIEWS.find(([key]) => key === asked)?.[0] ?? 'time'
  const payers = useMemo(
    () => new Map(sheet.requests.map(({ url, payer }) => [url, names.get(payer) ?? payer])),
    [sheet, names],
  )
  const slugs = useMemo(() => new Map(sheet.requests.map(({ url, payer }) => [url, payer])), [sheet])
  const lanes = useMemo(() => lanesOf(sheet.requests, names), [sheet, names])
  return (
    <div className="h-full overflow-auto">
      <div className="border-b border-line px-4 pt-4 pb-3">
        <p className="text-[13px] text-soft">
          <Link to={`/sites/${site.id}/pages`} className="text-verdigris underline underline-offset-2">
            Pages
          </Link>{' '}
          · {sheet.page.kind}
        </p>
        <h1 className="text-[22px]">{sheet.page.title}</h1>
        <p className="flex gap-4 text-soft">
          {site.address + sheet.page.path}
          <a
            href={`/api/sweeps/${sheet.sweepId}/har?page=${sheet.page.id}`}
            download
            className="text-verdigris hover:underline"
          >
            Save as HAR
          </a>
          <Link
            to={`/sites/${site.id}/preview?path=${encodeURIComponent(sheet.page.path)}`}
            className="text-verdigris hover:underline"
          >
            Look for yourself
          </Link>
          <ReadNext site={site.id} pageIds={[sheet.page.id]} />
        </p>
        <dl className="figures mt-4 flex flex-wrap gap-x-10 gap-y-3">
          <Figure name="Requests" value={String(totals.requests)} />
          {totals.fromCache > 0 && <Figure name="From its cache" value={String(totals.fromCache)} />}
          <Figure name="Transfer" value={bytes(totals.transferBytes)} />
          {TIMINGS.map(([key, name]) => (
            <Figure key={key} name={name} value={sheet.timings[key] == null ? '–' : milliseconds(sheet.timings[key])} />
          ))}
          <Figure name="DOM elements" value={String(sheet.domElements)} />
        </dl>
        {sheet.wait && <WaitBar wait={sheet.wait} />}
        <StaleLine siteId={site.id} sweepId={sheet.sweepId} of={{ page: sheet.page.id }} />
        <p className="mt-2 text-[12.5px] text-soft">
          Sweep {sheet.sweepId}.{' '}
          {sheet.timedRepeats === 0 ? (
            'No reading has given times yet: each page is read once before any of them again.'
          ) : (
            <>
              Times are medians over {sheet.timedRepeats < sheet.repeats && `${sheet.timedRepeats} of `}
              {plural(sheet.repeats, 'repeat')}; requests are those of the middle one.
              {noiseWords(sheet.noise)}
            </>
          )}
          {sheet.keptBecause !== null &&
            (sheet.keptLeftOut > 0
              ? ` ${plural(sheet.keptLeftOut, 'reading')} left out, since ${sheet.keptBecause}.`
              : ` The page was not made afresh: ${sheet.keptBecause}.`)}
          {sheet.failedRepeats > 0 && ` ${plural(sheet.failedRepeats, 'reading')} failed: ${sheet.failures.join(' ')}`}
        </p>
      </div>
      <Tabs.Root
        value={view}
        onValueChange={(next) =>
          setSearch((old) => new URLSearchParams({ ...Object.fromEntries(old), view: next }), { replace: true })
        }
      >
        <Tabs.List
          aria-label="Views of the page"
          className="flex gap-6 border-b border-line px-4 max-md:overflow-x-auto max-md:whitespace-nowrap"
        >
          {PAGE_VIEWS.map(([key, name]) => (
            <Tabs.Trigger
              key={key}
              value={key}
              className="border-b-2 border-transparent py-2 text-soft hover:text-ink data-[state=active]:border-verdigris data-[state=active]:font-semibold data-[state=active]:text-ink"
            >
              {name}
              {key === 'console' && complaints > 0 && ` (${complaints})`}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="time">
          <LoadLanes lanes={lanes} load={sheet.middleLoadMs} />
        </Tabs.Content>
        <Tabs.Content value="server">
          <ServerReadingsPart siteId={site.id} pageId={sheet.page.id} names={names} />
          <ServerView work={sheet.server} names={names} />
        </Tabs.Content>
        <Tabs.Content value="files">
          <CouldWeighFiles siteId={site.id} pageId={sheet.page.id} payers={payers} />
          <FilesView site={site} requests={sheet.requests} names={names} />
        </Tabs.Content>
        <Tabs.Content value="steps">
          <StepsView sheet={sheet} names={names} />
        </Tabs.Content>
        <Tabs.Content value="without">
          <WithoutTab siteId={site.id} pageId={sheet.page.id} names={names} />
        </Tabs.Content>
        <Tabs.Content value="pictures">
          {sheet.latePaint && (
            <div className="px-4 pt-1">
              <LatePaint site={site} path={sheet.page.path} late={sheet.latePaint} />
            </div>
          )}
          <PicturesTab siteId={site.id} pageId={sheet.page.id} path={sheet.page.path} payerOf={slugs} />
        </Tabs.Content>
        <Tabs.Content value="picture">
          <PictureView siteId={site.id} sheet={sheet} />
        </Tabs.Content>
        <Tabs.Content value="faces">
          <FacesView fonts={sheet.fonts} />
        </Tabs.Content>
        <Tabs.Content value="console">
          <ComplaintsView site={site} page={sheet.page} />
        </Tabs.Content>
      </Tabs.Root>
    </div>
  )
}

/** How far the load event is to be trusted. */
function noiseWords(noise: PageSheet['noise']): string {
  if (!noise) return ''
  const { count, least, most, uncertainty, tooNoisy, repeatsNeeded } = noise
  if (uncertainty === null)
    return ` How much the load event varies can’t be told from ${plural(count, 'timed reading')}; ${plural(repeatsNeeded!, 'repeat')} would do.`
  const range = ` The load event came after ${milliseconds(least)} to ${milliseconds(most)}`
  return tooNoisy
    ? `${range}: too noisy to tell anything under ${milliseconds(uncertainty)}. About ${plural(repeatsNeeded!, 'repeat')} would do.`
    : `${range}, which is known to ${milliseconds(uncertainty)}.`
}

function Figure({ name, value }: { name: string; value: string }) {
  return (
    <div>
      <dt className="text-[12.5px] text-soft">{name}</dt>
      <dd className="font-serif text-[22px] leading-tight font-semibold">{value}</dd>
    </div>
  )
}

const cameToNothing = ({ failure, status }: PageRequest) => failure !== null || (status ?? 0) >= 400

export interface Lane {
  payer: string
  name: string
  requests: PageRequest[]
}

/** The page's requests by who pays, in the order in which each payer first asked. */
function lanesOf(requests: PageRequest[], names: Map<string, string>): Lane[] {
  const lanes = new Map<string, Lane>()
  for (const request of requests) {
    const lane = lanes.get(request.payer) ?? {
      payer: request.payer,
      name: names.get(request.payer) ?? request.payer,
      requests: [],
    }
    lane.requests.push(request)
    lanes.set(request.payer, lane)
  }
  return [...lanes.values()]
}
