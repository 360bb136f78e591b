import {
  attribute,
  planRewrite,
  resolve,
  stepsFor,
  wentOut,
  type AttributionSources,
  type GuardLook,
  type Reading,
  type Rule,
  type RulePage,
} from '@unvelt/core'
import type { ReadingOrder } from '../browser/reading-order.js'
import type { Picture } from '../browser/take-picture.js'
import { visitOf, type LensRow } from '../lens/lens.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { measuringHeader, type MeasuringWish } from '../site-http/measuring-header.js'
import { siteAddress } from '../site-http/site-address.js'
import type { SiteRow } from '../site/site.model.js'
import { readInLivingBrowser } from '../worker/read-in-living-browser.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import type { RehearsedReading } from './rehearsal.model.js'

const MOST_ASKED = 3_000
const LONGEST = 500
/** Effects after which nothing of an add-on should be asked for. */
const UNLOADS = new Set(['skip', 'leave-out', 'system-font'])

/** What all readings of one page under one lens have in common. */
export interface Subject {
  site: SiteRow
  page: PageRow
  lens: LensRow
  /** Of the site's connector. */
  key: string | null
  cookie: string | null
  sources: AttributionSources
  /** The rules as they would be live. */
  rules: readonly Rule[]
  liveVersion: number
  /** The rules are live already: one side is what visitors get, the other the page under the rules before. */
  isLive: boolean
  /** Whether the site takes back a form that is sent as a trial. */
  hasTrials: boolean
  /** The page at an address of the site; of one that nobody has listed only its path is known. */
  pageAt(url: URL): RulePage
}

/**
 * Reads a page with the drafts or without them, by exactly what would be live: made by the site itself where it keeps drafts, else
 * passed through core's rewriter on its way to the browser, on either side, so that the two differ in the rules alone.
 * @param draftsAtSite Under which name the site keeps the drafts; null where it doesn't.
 */
export async function readRehearsed(
  tools: WorkerTools,
  subject: Subject,
  {
    side,
    looks,
    turn,
    steps = true,
  }: { side: RehearsedReading['side']; looks: boolean; turn: number; steps?: boolean },
  draftsAtSite: string | null,
): Promise<{ reading: RehearsedReading; pictures: Picture[]; failedSteps: Map<string, Picture> }> {
  const { site, page, lens, key, cookie } = subject
  const url = siteAddress(site.address, page.path)
  const withRules = side === 'with'
  const under: MeasuringWish['rules'] = subject.isLive
    ? withRules
      ? 'live'
      : subject.liveVersion
    : withRules && draftsAtSite !== null
      ? `draft-${draftsAtSite}`
      : draftsAtSite !== null
        ? subject.liveVersion
        : 'live'
  const mayTouch = page.area === 'public' && lens.settings.visitor.kind === 'signed-out'
  const taken: { look: GuardLook | null; pictures: Picture[] } = { look: null, pictures: [] }
  const failedSteps = new Map<string, Picture>()
  const order: ReadingOrder = {
    url: url.href,
    ownHosts: site.ownHosts,
    lens: lens.settings,
    cookie,
    reach: reachOf(site),
    ...(key && {
      measuringHeader: () => measuringHeader(url, key, { rules: under, cache: 'bypass' }, Date.now() / 1000),
    }),
    ...(draftsAtSite === null && !subject.isLive && { rewrite: (at: URL) => (withRules ? planOf(subject, at) : null) }),
    ...(looks
      ? {
          untimed: true,
          onLook: (look: GuardLook) => void (taken.look = look),
          // What is pressed in the back office, or by somebody who has signed in, may change the site.
          ...(mayTouch &&
            steps && {
              steps: stepsFor(page.kind, site.steps ?? undefined),
              onward: (at: URL, method: string) => onward(subject, under, at, method),
              onPicture: (picture: Picture) => void taken.pictures.push(picture),
              laterPicture: true,
              onFailedStep: (name: string, view: Picture) => void failedSteps.set(name, view),
            }),
        }
      : { clean: true }),
  }
  const reading = await readInLivingBrowser(tools, order, !looks)
  return {
    pictures: taken.pictures,
    failedSteps,
    reading: {
      side,
      turn,
      look: taken.look,
      figures: figuresOf(reading, looks),
      asked: addresses(reading.requests.map((request) => request.url)),
      stayed: withRules ? stayedOf(subject, reading) : [],
    },
  }
}

const effectsOn = ({ rules, page, lens }: Subject) => resolve(rules, rulePage(page), visitOf(lens))

/** On a page that a step leads to other rules hold than on the one it was on. */
const planOf = ({ rules, lens, sources, pageAt }: Subject, at: URL) =>
  planRewrite({ effects: resolve(rules, pageAt(at), visitOf(lens)), sources, pageUrl: at.href })

/** What a step sends is taken back by the site where it can do so; the next page is made under the same rules. */
function onward(
  { site, key, hasTrials }: Subject,
  rules: MeasuringWish['rules'],
  at: URL,
  method: string,
): string | null {
  if (key === null || at.origin !== new URL(site.address).origin) return null
  const trial = method === 'POST' && hasTrials ? 'visitor' : undefined
  return measuringHeader(at, key, { rules, cache: 'bypass', trial }, Date.now() / 1000)
}

/** What is asked for all the same of what is to go whole. */
function stayedOf(subject: Subject, reading: Reading): string[] {
  const whole = effectsOn(subject).filter(({ effect, feature, file }) => UNLOADS.has(effect) && !feature && !file)
  if (whole.length === 0) return []
  const meant = new Set(whole.map(({ addon }) => addon))
  const { requests } = attribute(reading, subject.sources)
  const stays = reading.requests.filter(
    ({ id, failure, type }) => type !== 'document' && failure === undefined && meant.has(requests.get(id)!.payer),
  )
  return addresses(stays.map(({ url }) => url))
}

/** What was asked for, told so that two loads of a page say the same of the same. */
const addresses = (urls: readonly string[]): string[] =>
  [...new Set(urls.map((url) => url.replace(/[?#].*$/, '').slice(0, LONGEST)))].slice(0, MOST_ASKED)

function figuresOf({ requests, timings, mainThread }: Reading, looks: boolean): RehearsedReading['figures'] {
  const out = requests.filter(wentOut)
  const sum = (of: (request: Reading['requests'][number]) => number) => out.reduce((total, r) => total + of(r), 0)
  return {
    requests: out.length,
    transferBytes: sum((r) => r.transferBytes),
    decodedBytes: sum((r) => r.decodedBytes),
    ...(!looks && {
      mainThreadMs: mainThread.reduce((total, { ms }) => total + ms, 0),
      loadMs: timings.load,
      largestPaintMs: timings.largestContentfulPaint,
      blockingMs: timings.totalBlockingTime,
    }),
  }
}
