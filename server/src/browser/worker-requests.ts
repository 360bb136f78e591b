import type { Page, Request } from 'playwright-core'
import { KEPT_HEADERS, type RequestRecord, type RequestType } from '@unvelt/core'
import type { RequestRecorder } from './request-recorder.js'
import { LONGEST_TEXT } from './limits.js'
import { withinTime } from './within-time.js'

const TYPES: Record<string, RequestType> = {
  script: 'script',
  fetch: 'fetch',
  xhr: 'fetch',
  font: 'font',
  image: 'picture',
}
/** What goes on by nature, and is not waited for. */
const ENDLESS = new Set(['ping', 'websocket', 'eventsource'])
const MOST = 500
const ANSWER_MS = 2_000

/**
 * What a page's workers and its service worker ask for. The browser tells of it on the workers' own sessions and not on the
 * page's; Playwright listens to all of them, so what it has heard of beyond the page's own requests is theirs.
 */
export class WorkerRequests {
  /** Addresses of the workers that have begun. */
  private readonly workers: string[] = []
  private heard: Request[] = []
  private readonly open = new Set<Request>()
  /** Requests of the page's own, by method and address, that were not heard of yet. */
  private readonly own = new Map<string, number>()
  private readonly ids = new Map<Request, string>()
  private line: number | null = null
  private first: Request | null = null
  private hasServiceWorker = false

  constructor(
    page: Page,
    private readonly recorder: RequestRecorder,
    onChange: () => void,
  ) {
    page.on('worker', (worker) => {
      this.workers.push(worker.url())
      void this.endScripts()
    })
    const begin = (request: Request) => {
      this.first ??= request
      this.heard.push(request)
      this.open.add(request)
      if (this.hasAny) onChange()
    }
    const end = (request: Request) => {
      this.open.delete(request)
      void this.endScripts()
      if (this.hasAny) onChange()
    }
    page.on('request', begin)
    page.on('requestfinished', end)
    page.on('requestfailed', end)
    // A page's events leave out what its service worker asks for.
    const context = page.context()
    const ofService = (then: (request: Request) => void) => (request: Request) => {
      if (!request.serviceWorker()) return
      this.hasServiceWorker = true
      then(request)
    }
    context.on('request', ofService(begin))
    context.on('requestfinished', ofService(end))
    context.on('requestfailed', ofService(end))
  }

  private get hasAny(): boolean {
    return this.workers.length > 0 || this.hasServiceWorker
  }

  /** How many requests are under way, the page's own among them; none as long as there is no worker. */
  get underWay(): number {
    if (!this.hasAny) return 0
    return [...this.open].filter((request) => !ENDLESS.has(request.resourceType())).length
  }

  /** The page's session tells that a worker's own script is asked for, and never that it has come. */
  private async endScripts(): Promise<void> {
    if (this.workers.length === 0) return
    for (const request of this.heard) {
      const url = request.url()
      if (!this.workers.includes(url) || this.open.has(request) || !this.recorder.isOpen(url)) continue
      const { transferBytes, decodedBytes } = await sizesOf(request)
      this.recorder.endWorker(url, request.timing().responseEnd, transferBytes, decodedBytes)
    }
  }

  /** Whatever begins from here on is left over by the next `take`. */
  drawLine(): void {
    this.line = this.heard.length
  }

  /**
   * Those of the workers since the last call, up to the line if there is one: what was heard of and is not among the page's own.
   * @param own The page's own requests since the last call.
   */
  async take(own: readonly RequestRecord[]): Promise<RequestRecord[]> {
    const heard = this.heard.splice(0, this.line ?? this.heard.length)
    this.line = null
    for (const { method, url } of own) this.own.set(`${method} ${url}`, (this.own.get(`${method} ${url}`) ?? 0) + 1)
    const theirs = new Set<Request>()
    // Where page and worker ask for the same, the one that says it comes from a worker does.
    for (const request of [...heard].sort(
      (a, b) => Number(this.sender(a) !== null) - Number(this.sender(b) !== null),
    )) {
      if (!/^https?:/.test(request.url())) continue
      const key = `${request.method()} ${request.url()}`
      const count = this.own.get(key) ?? 0
      if (count > 0 && !request.serviceWorker()) this.own.set(key, count - 1)
      else theirs.add(request)
    }
    if (!this.hasAny) return []
    const inOrder = heard.filter((request) => theirs.has(request)).slice(0, Math.max(0, MOST - this.ids.size))
    for (const request of inOrder) this.ids.set(request, `worker-${this.ids.size}`)
    return Promise.all(inOrder.map((request) => this.record(request)))
  }

  /** Which worker sent it, where it says so: a worker's own address is what it is referred by. */
  private sender(request: Request): string | null {
    const service = request.serviceWorker()
    if (service) return service.url()
    const { referer } = request.headers()
    return referer !== undefined && this.workers.includes(referer) ? referer : null
  }

  private async record(request: Request): Promise<RequestRecord> {
    const { response, headers, transferBytes, decodedBytes } = await sizesOf(request)
    const { startTime, responseEnd } = request.timing()
    const from = request.redirectedFrom()
    const redirected = from ? this.ids.get(from) : undefined
    // With one worker there is no doubt whose it is, though to another host it tells its origin only.
    const sender = this.sender(request) ?? (this.workers.length === 1 ? this.workers[0]! : undefined)
    const startedMs = Math.max(0, startTime - (this.first?.timing().startTime ?? startTime))
    const failure = request.failure()?.errorText
    return {
      id: this.ids.get(request)!,
      url: request.url(),
      method: request.method(),
      type: TYPES[request.resourceType()] ?? 'other',
      status: response?.status() ?? null,
      mimeType: (headers['content-type'] ?? '').split(';')[0]!.trim(),
      protocol: '',
      priority: '',
      startedMs,
      endedMs: responseEnd >= 0 ? startedMs + responseEnd : null,
      transferBytes,
      decodedBytes,
      fromCache: false,
      renderBlocking: false,
      initiator: redirected !== undefined ? { type: 'redirect' } : { type: 'script', ...(sender && { url: sender }) },
      ...(redirected !== undefined && { redirectedFrom: redirected }),
      frameUrl: sender ?? '',
      ...(failure !== undefined && { failure }),
      responseHeaders: Object.fromEntries(
        Object.entries(headers).flatMap(([name, value]) =>
          KEPT_HEADERS.has(name) ? [[name, value.slice(0, LONGEST_TEXT)]] : [],
        ),
      ),
    }
  }
}

async function sizesOf(request: Request) {
  const [sizes, response] = await Promise.all([known(request.sizes()), known(request.response())])
  const body = response ? await known(response.body()) : null
  const headers = response?.headers() ?? {}
  return {
    response,
    headers,
    transferBytes: sizes ? sizes.responseHeadersSize + (sizes.responseBodySize || bodyOnWire(headers, body)) : 0,
    decodedBytes: body?.length || (await storedSize(request)) || (sizes?.responseBodySize ?? 0),
  }
}

/** Of what a service worker puts away for later the browser gives out no body, but the worker has it. */
async function storedSize(request: Request): Promise<number | null> {
  const service = request.serviceWorker()
  if (!service) return null
  return known(
    service.evaluate(async (url) => {
      // Runs in the worker, of which our own types know nothing.
      const { caches } = globalThis as unknown as { caches: { match(url: string): Promise<Response | undefined> } }
      const stored = await caches.match(url)
      return stored ? (await stored.arrayBuffer()).byteLength : 0
    }, request.url()),
  )
}

/** An answer that is withheld from the page may never be handed out. */
const known = <T>(asked: Promise<T>): Promise<T | null> => withinTime(ANSWER_MS, asked, '').catch(() => null)

/** Of a worker's own script the browser does not tell the bytes that came. */
function bodyOnWire(headers: Record<string, string>, body: Buffer | null): number {
  const told = Number(headers['content-length'] ?? NaN)
  if (Number.isFinite(told)) return told
  return headers['content-encoding'] === undefined ? (body?.length ?? 0) : 0
}
