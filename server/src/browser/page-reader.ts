import type { CDPSession, Page } from 'playwright-core'
import {
  parseServerTiming,
  unite,
  type Companion,
  type FileUse,
  type GuardLook,
  type InlineText,
  type Reading,
  type RequestRecord,
  type StepRecord,
} from '@unvelt/core'
import { refuseUnanswered } from './answer-consent.js'
import { blockHosts } from './blocked.js'
import { findAnswers } from './find-banner.js'
import { placeInStack, placeOf } from './error-place.js'
import { Film } from './film.js'
import { failedRequests } from './failed-requests.js'
import { CodeWatch, scriptUse, timeByScript, type CodeSeen } from './code-watch.js'
import { inlineScriptUse, type UseSeen } from './inline-use.js'
import { elementMakers, rememberMakers, withCallers, type Makers } from './element-makers.js'
import { explained, ReadingFailure } from '../reading/failure.js'
import { DEFAULT_LIMITS, LONGEST_TEXT, MOST_CONSOLE_LINES, QUIET_MS, type ReadingLimits } from './limits.js'
import { MEASURING_HEADER } from '../site-http/measuring-header.js'
import { parseApart } from '../parse/parse-apart.js'
import { letIn, type Asked } from './let-in.js'
import { lookForGuards, reachableControls } from './look-for-guards.js'
import { lookForOffers } from './look-for-offers.js'
import { pageSession } from './page-session.js'
import { readPageFigures } from './page-figures.js'
import { arrivedAt, refuseOtherPage, refuseRefused } from './in-its-place.js'
import { addHeadersOnward, type HeaderOnward } from './onward-headers.js'
import { QuietWatch } from './quiet.js'
import { hurryProcessor, slowProcessor } from './look-through.js'
import type { ReadingOrder } from './reading-order.js'
import { RequestRecorder } from './request-recorder.js'
import { documentText, responseText } from './response-text.js'
import { rewriteDocument } from './rewrite-document.js'
import { takeLaterPicture, takePicture, takeView } from './take-picture.js'
import { takeSteps, type StepTools } from './take-steps.js'
import { shortTexts } from './short-texts.js'
import { styleUse } from './style-use.js'
import { withinTime } from './within-time.js'
import { untouchedPreloads } from './untouched-preloads.js'
import { WorkerRequests } from './worker-requests.js'

/** The browser copies every body for whoever listens, and a page feels it (measured: 5 % of its load). */
const KEEP_NO_BODIES = { maxTotalBufferSize: 0, maxResourceBufferSize: 0 }
const NOTHING_SEEN: UseSeen = { files: [], inline: [] }
const MOST_COMPANIONS = 100
/** Well within what a whole reading may take, so that the load's figures are never lost for the steps' sake. */
const STEPS_AT_MOST_MS = 30_000

const union = (use: FileUse, first: readonly FileUse[]): FileUse => ({
  ...use,
  used: unite(use.used, first.find(({ requestId }) => requestId === use.requestId)?.used ?? []),
})

/** Ends every transfer that is under way, and lets no other begin. */
async function goOffline(session: CDPSession): Promise<void> {
  const offline = { offline: true, latency: 0, downloadThroughput: 0, uploadThroughput: 0 }
  await session.send('Network.emulateNetworkConditions', offline).catch(() => {})
}

/** A page that is handed on from http to https, or from one port to another, is still at home. */
export const hostOf = (url: string) => new URL(url).hostname.replace(/^www\./, '')

const isBeyond = (recorder: RequestRecorder, limits: ReadingLimits): boolean =>
  recorder.count > limits.requests ||
  recorder.transferBytes > limits.transferBytes ||
  recorder.decodedBytes > limits.decodedBytes

const NOBODY: Makers = { makers: [], callers: new Map() }

/** Reads one page that is there and empty yet. */
export class PageReader {
  private readonly limits: ReadingLimits
  private readonly consoleErrors: string[] = []
  private readonly errorPlaces = new Map<string, string>()
  private readonly companions: Companion[] = []
  private readonly recorder: RequestRecorder
  private readonly workers: WorkerRequests
  private quiet = new QuietWatch(() => this.underWay())
  private cutOff = () => {}
  /** Whether it is closed to the public, so that whoever lets us in adds all headers. */
  private isClosed = false
  private onward: HeaderOnward | undefined
  /** Comes when the page went beyond all measure. */
  private readonly beyond = new Promise<null>((resolve) => (this.cutOff = () => resolve(null)))

  private constructor(
    private readonly page: Page,
    private readonly order: ReadingOrder,
    private readonly session: CDPSession,
    private readonly frameId: string,
    private readonly hurry: () => void,
  ) {
    this.limits = order.limits ?? DEFAULT_LIMITS
    this.recorder = new RequestRecorder(session, frameId, () => this.heard())
    this.workers = new WorkerRequests(page, this.recorder, () => this.quiet.poke())
    this.hear()
  }

  /**
   * Has everything ready for the load, and nothing at work yet.
   * @param hurry Ends the slowness of the line.
   */
  static async ready(page: Page, order: ReadingOrder, hurry = () => {}): Promise<PageReader> {
    const session = await pageSession(page)
    const { frameTree } = await session.send('Page.getFrameTree')
    const reader = new PageReader(page, order, session, frameTree.frame.id, hurry)
    // Remembering costs the page a little, so it is asked of the reading that is not there for its times alone.
    if (order.steps) await rememberMakers(session)
    await session.send('Network.enable', order.clean ? KEEP_NO_BODIES : {})
    if (order.blocked) await blockHosts(session, order.blocked)
    reader.isClosed = await letIn(page, order, (asked) => reader.headersOf(asked))
    if (order.rewrite)
      await rewriteDocument(await page.context().newCDPSession(page), frameTree.frame.id, order.rewrite, {
        onDocument: order.onDocument,
        instead: order.document,
      })
    if (order.measuringHeader !== undefined && !reader.isClosed)
      // In a session of its own: Playwright answers on its own one, and would let the request go on without them.
      await reader.addHeaders(await page.context().newCDPSession(page))
    return reader
  }

  private underWay(): number {
    return Math.max(this.recorder.underWay, this.workers.underWay)
  }

  private heard(): void {
    if (!isBeyond(this.recorder, this.limits)) return this.quiet.poke()
    this.quiet.stop()
    this.cutOff()
    void goOffline(this.session)
  }

  async read(): Promise<Reading> {
    const { page, order, limits, session, recorder, workers } = this
    // A slowed page and one that is watched keep a processor busy even while they are empty, so both begin only now.
    if (!order.untimed) await slowProcessor(session, order.lens)
    const watch = await CodeWatch.start(session, { use: !order.clean, times: !order.untimed })
    const film = order.onFilm && (await Film.start(session))
    const load = page.goto(order.url, { waitUntil: 'load', timeout: limits.loadMs }).catch((error: unknown) => {
      if (isBeyond(recorder, limits)) return null
      throw explained(error, recorder.stillUnderWay)
    })
    // A page that goes beyond all measure is not waited for, but read as far as it came.
    const response = await Promise.race([load, this.beyond])
    this.refuseElsewhere()
    if (response && response.status() >= 400) await refuseRefused(page, response, order.url)
    if (order.cookie && new URL(page.url()).pathname !== new URL(order.url).pathname)
      throw new ReadingFailure(
        `The page sent the visitor on to ${new URL(page.url()).pathname}: not signed in, or not allowed.`,
      )
    const end = isBeyond(recorder, limits) ? 'stopped' : await this.quiet.wait(limits.quietWaitMs)
    const endedAt = performance.now()
    this.refuseElsewhere()
    // However long the page takes to tell its figures, what it asks for meanwhile is none of its load's.
    recorder.drawLine()
    workers.drawLine()
    const quietAt = end === 'quiet' ? endedAt - QUIET_MS : null
    const answer = <T>(asked: Promise<T>) =>
      withinTime(limits.answerMs, asked, `The page’s main thread answered nothing for ${limits.answerMs / 1000} s.`)
    // The browser's clock and ours differ by a constant; the page's own time origin ties them.
    const pageNow = await answer(page.evaluate(() => performance.now()))
    const pageIsAhead = pageNow - performance.now()
    if (film) order.onFilm!(await film.end(), await answer(page.evaluate(() => performance.timeOrigin)))
    const [code, figures] = await Promise.all([answer(watch.stop()), answer(readPageFigures(page))])
    // All times are taken, and what follows gives none.
    await answer(refuseOtherPage(page, arrivedAt(order.url, recorder.document)))
    if (order.lens.consent) await answer(refuseUnanswered(page, order.url, order.lens.consent))
    if (order.onConsentBanner) order.onConsentBanner(await answer(findAnswers(page)))
    if (!order.clean && end === 'quiet') {
      this.hurry()
      if (!order.untimed) await answer(hurryProcessor(session, order.lens))
    }
    const quietMs = quietAt === null ? null : Math.max(figures.load ?? 0, quietAt + pageIsAhead)
    const document = recorder.document
    const takeRequests = async () => {
      const own = recorder.take()
      return [...own, ...(await answer(workers.take(own)))]
    }
    const requests = await takeRequests()
    if (end === 'stopped')
      this.consoleErrors.push(
        `The reading was cut off after ${recorder.count} requests and ${recorder.transferBytes} bytes.`,
      )
    const complaints = this.consoleErrors.length
    for (const record of requests) record.renderBlocking = figures.renderBlocking.includes(record.url)
    const documentUrls = new Set(requests.filter((r) => r.type === 'document').map((r) => r.url))
    const codes = document ? await this.inlineTexts(session, document, this.frameId) : []
    const useOf = async (coverage: CodeSeen['coverage'], of: RequestRecord[]): Promise<UseSeen> => {
      const scripts = await answer(scriptUse(session, coverage, of))
      const styles = await answer(styleUse(session, page, this.frameId, of, codes))
      const inline = inlineScriptUse(coverage, document?.url ?? '', codes)
      const touched = new Set([...coverage.map(({ url }) => url), ...styles.present])
      const files = [...scripts, ...styles.files, ...untouchedPreloads(of, touched)]
      return { files, inline: inline.map((used, n) => used ?? styles.inline[n]!) }
    }
    const use: UseSeen = order.clean ? NOTHING_SEEN : await useOf(code.coverage, requests)
    const { makers, callers } = order.steps ? await answer(elementMakers(session)).catch(() => NOBODY) : NOBODY
    if (order.steps) order.onLoaded?.()
    const seen = order.onLook && (await answer(lookForGuards(session, page)))
    const texts = order.texts && (await answer(shortTexts(page)))
    order.onOffers?.(await answer(lookForOffers(session, page)))
    const stepped: GuardLook['steps'][number][] = []
    const { steps, later } =
      order.steps && end === 'quiet'
        ? await this.goOn(
            watch,
            {
              takeRequests,
              newQuietWatch: (ms) => (this.quiet = new QuietWatch(() => this.underWay(), ms)),
              quietSince: endedAt,
              ...(seen && {
                onStepped: async (name: string, outcome: StepRecord['outcome'], why?: string) => {
                  const controls = await reachableControls(session)
                  const said = order.texts && { texts: await shortTexts(page) }
                  stepped.push({ name, outcome, ...(why !== undefined && { why }), controls, ...said })
                  const view = outcome === 'failed' && order.onFailedStep ? await takeView(page) : null
                  if (view) order.onFailedStep!(name, view)
                },
              }),
            },
            useOf,
            requests,
          )
        : { steps: [], later: NOTHING_SEEN }
    if (seen)
      order.onLook!({
        ...seen,
        ...(texts && { texts }),
        status: document?.status ?? null,
        title: figures.title,
        path: new URL(document?.url ?? order.url).pathname,
        errors: [...new Set(this.consoleErrors)],
        errorPlaces: Object.fromEntries(this.errorPlaces),
        failed: failedRequests([...requests, ...steps.flatMap((step) => step.requests)]),
        shift: figures.cumulativeLayoutShift,
        steps: stepped,
      })
    return {
      url: order.url,
      finalUrl: page.url(),
      title: figures.title,
      requests: withCallers(requests, callers),
      inlineCode: codes.map(({ text: _, ...inline }, n) => ({
        ...inline,
        ...(use.inline[n] && { used: use.inline[n] }),
        ...(later.inline[n] && { laterUsed: unite(use.inline[n] ?? [], later.inline[n]) }),
      })),
      serverTiming: parseServerTiming(document?.responseHeaders['server-timing'] ?? ''),
      timings: {
        ttfb: figures.ttfb,
        firstContentfulPaint: figures.firstContentfulPaint,
        largestContentfulPaint: figures.largestContentfulPaint,
        domContentLoaded: figures.domContentLoaded,
        load: figures.load,
        quiet: quietMs,
        totalBlockingTime: figures.totalBlockingTime,
        longestTask: figures.longestTask,
        answers: figures.answers,
        cumulativeLayoutShift: figures.cumulativeLayoutShift,
      },
      ...(figures.largestPaint && { largestPaint: figures.largestPaint }),
      domElements: figures.domElements,
      fileUse: use.files,
      ...(order.clean && { clean: true }),
      ...(order.untimed && { untimed: true }),
      steps,
      laterUse: later.files.map((used) => union(used, use.files)),
      companions: this.companions,
      elementMakers: makers,
      mainThread: code.profile ? timeByScript(code.profile, documentUrls) : [],
      fonts: figures.fonts,
      traceId: order.trace?.traceId ?? null,
      rulesVersion: document?.responseHeaders['unvelt-rules'] ?? null,
      consoleErrors: this.consoleErrors.slice(0, complaints),
    }
  }

  /** What stands at the end of a redirect to somebody else's site, or to Unvelt itself, is no page of this one. */
  private refuseElsewhere(): void {
    const { ownHosts, url } = this.order
    const at = this.page.url()
    if (at.startsWith('chrome-error:')) throw new ReadingFailure('The page leads to an address that can’t be reached.')
    const hosts = ownHosts ?? [new URL(url).host]
    const elsewhere = /^https?:/.test(at) && !hosts.includes(new URL(at).host) && hostOf(at) !== hostOf(url)
    if (elsewhere) throw new ReadingFailure(`The page leads away from its site, to ${new URL(at).host}.`)
  }

  /** The steps after the timing, with a picture on the way. Whatever goes wrong here, the load's figures stand. */
  private async goOn(
    watch: CodeWatch,
    tools: Omit<StepTools, 'page' | 'onScrolled'>,
    useOf: (coverage: CodeSeen['coverage'], of: RequestRecord[]) => Promise<UseSeen>,
    requests: RequestRecord[],
  ): Promise<{ steps: StepRecord[]; later: UseSeen }> {
    const { page, order } = this
    let steps: StepRecord[] = []
    const here = page.url()
    const onScrolled = async () => {
      if (!order.onPicture) return
      const picture = await takePicture(page)
      if (picture) order.onPicture(picture)
      const later = picture && order.laterPicture && (await takeLaterPicture(page, picture))
      if (later) order.onPicture(later)
    }
    const scrolls = order.steps!.some(({ actions }) => actions.some((action) => action.do === 'scroll'))
    try {
      // Once the page was scrolled, what comes late is on it; where no step does so, it is shown as it came.
      if (!scrolls) await onScrolled()
      await watch.goOn()
      this.onward = order.onward
      if (order.onward && !this.isClosed) await addHeadersOnward(await page.context().newCDPSession(page), order.onward)
      const goBack = async () => {
        await page.goto(order.url, { waitUntil: 'load', timeout: this.limits.loadMs })
        await this.quiet.wait(this.limits.quietWaitMs)
      }
      const taking = takeSteps({ ...tools, page, onScrolled, ...(order.onward && { goBack }) }, order.steps!)
      steps = await withinTime(STEPS_AT_MOST_MS, taking, 'The steps took too long.')
      const coverage = await watch.takeCoverage()
      const all = [...requests, ...steps.flatMap((step) => step.requests)]
      // On another page nothing more can be learnt of the one before.
      return { steps, later: page.url() === here ? await useOf(coverage, all) : NOTHING_SEEN }
    } catch {
      return { steps, later: NOTHING_SEEN }
    }
  }

  private hear(): void {
    const keep = (whole: string, place: string | undefined) => {
      if (this.consoleErrors.length >= MOST_CONSOLE_LINES) return
      const text = whole.slice(0, LONGEST_TEXT)
      this.consoleErrors.push(text)
      if (place !== undefined) this.errorPlaces.set(text, place.slice(0, LONGEST_TEXT))
    }
    this.page.on(
      'console',
      (message) => message.type() === 'error' && keep(message.text(), placeOf(message.location())),
    )
    this.page.on('pageerror', (error) => keep(error.message, placeInStack(error.stack)))
    const meet = (kind: Companion['kind'], url: string) => {
      if (this.companions.length < MOST_COMPANIONS) this.companions.push({ kind, url: url.slice(0, LONGEST_TEXT) })
    }
    this.page.on('worker', (worker) => meet('worker', worker.url()))
    this.page.on('websocket', (socket) => meet('socket', socket.url()))
    this.page.context().on('serviceworker', (worker) => meet('service worker', worker.url()))
    this.page.on('dialog', (dialog) => void dialog.dismiss().catch(() => {}))
  }

  /** By what a site knows a request as Unvelt's: the page's own, and those that steps set off. */
  private headersOf({ url, method, type }: Asked): Record<string, string> {
    const { measuringHeader: header, trace, url: own } = this.order
    if (!URL.canParse(url)) return {}
    const at = new URL(url)
    const onward = this.onward && (type === 'Document' || method === 'POST') ? this.onward(at, method) : null
    if (onward !== null) return { [MEASURING_HEADER]: onward }
    if (header === undefined || type !== 'Document' || at.href !== new URL(own).href) return {}
    return {
      [MEASURING_HEADER]: typeof header === 'string' ? header : header(),
      ...(trace && { traceparent: trace.traceparent }),
    }
  }

  /** Only the page's own request is stopped for a moment and given the headers; nothing else is touched. */
  private async addHeaders(session: CDPSession): Promise<void> {
    session.on('Fetch.requestPaused', ({ requestId, request, resourceType: type }) => {
      const own = this.headersOf({ url: request.url, method: request.method, type })
      const headers = Object.entries({ ...request.headers, ...own }).map(([name, value]) => ({ name, value }))
      void session
        .send('Fetch.continueRequest', { requestId, ...(Object.keys(own).length > 0 && { headers }) })
        .catch(() => {})
    })
    const urlPattern = new URL(this.order.url).href.replace(/[\\*?]/g, '\\$&')
    await session.send('Fetch.enable', {
      patterns: [{ urlPattern, resourceType: 'Document', requestStage: 'Request' }],
    })
  }

  private async inlineTexts(session: CDPSession, { id, url }: RequestRecord, frame: string): Promise<InlineText[]> {
    const html = this.order.clean ? await documentText(session, frame, url) : await responseText(session, id)
    return html === null ? [] : ((await parseApart('inline', html)) ?? [])
  }
}
