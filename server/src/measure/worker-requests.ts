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
 * What a page's workers ask for. The browser tells of it on the workers' own sessions and not on the page's; Playwright
 * listens to all of them, so what it has heard of beyond the page's own requests is theirs.
 */
export class WorkerRequests {
  /** Addresses of the workers that have begun. */
  private readonly workers: string[] = []
  private readonly heard: Request[] = []
  private readonly open = new Set<Request>()

  constructor(
    page: Page,
    private readonly recorder: RequestRecorder,
    onChange: () => void,
  ) {
    page.on('worker', (worker) => {
      this.workers.push(worker.url())
      void this.endScripts()
    })
    page.on('request', (request) => {
      this.heard.push(request)
      this.open.add(request)
      if (this.workers.length > 0) onChange()
    })
    const end = (request: Request) => {
      this.open.delete(request)
      void this.endScripts()
      if (this.workers.length > 0) onChange()
    }
    page.on('requestfinished', end)
    page.on('requestfailed', end)
  }

  /** How many requests are under way, the page's own among them; none as long as there is no worker. */
  get underWay(): number {
    if (this.workers.length === 0) return 0
    return [...this.open].filter((request) => !ENDLESS.has(request.resourceType())).length
  }

  /** The page's session tells that a worker's own script is asked for, and never that it has come. */
  private async endScripts(): Promise<void> {
    for (const request of this.heard) {
      const url = request.url()
      if (!this.workers.includes(url) || this.open.has(request) || !this.recorder.isOpen(url)) continue
      const { transferBytes, decodedBytes } = await sizesOf(request)
      this.recorder.endWorker(url, request.timing().responseEnd, transferBytes, decodedBytes)
    }
  }

  /** Those of the workers: what was heard of and is not among the page's own. */
  async beside(own: readonly RequestRecord[]): Promise<RequestRecord[]> {
    if (this.workers.length === 0) return []
    const left = new Map<string, number>()
    for (const { method, url } of own) left.set(`${method} ${url}`, (left.get(`${method} ${url}`) ?? 0) + 1)
    const theirs = new Set<Request>()
    // Where page and worker ask for the same, the one that says it comes from a worker does.
    for (const request of [...this.heard].sort(
      (a, b) => Number(this.sender(a) !== null) - Number(this.sender(b) !== null),
    )) {
      if (!/^https?:/.test(request.url())) continue
      const key = `${request.method()} ${request.url()}`
      const count = left.get(key) ?? 0
      if (count > 0) left.set(key, count - 1)
      else theirs.add(request)
    }
    const began = this.heard[0]?.timing().startTime ?? 0
    const ids = new Map([...theirs].map((request, n) => [request, `worker-${n}`]))
    const inOrder = this.heard.filter((request) => theirs.has(request)).slice(0, MOST)
    return Promise.all(inOrder.map((request) => this.record(request, ids, began)))
  }

  /** Which worker sent it, where it says so: a worker's own address is what it is referred by. */
  private sender(request: Request): string | null {
    const { referer } = request.headers()
    return referer !== undefined && this.workers.includes(referer) ? referer : null
  }

  private async record(request: Request, ids: Map<Request, string>, began: number): Promise<RequestRecord> {
    const { response, headers, transferBytes, decodedBytes } = await sizesOf(request)
    const { startTime, responseEnd } = request.timing()
    const from = request.redirectedFrom()
    const redirected = from ? ids.get(from) : undefined
    // With one worker there is no doubt whose it is, though to another host it tells its origin only.
    const sender = this.sender(request) ?? (this.workers.length === 1 ? this.workers[0]! : undefined)
    const startedMs = Math.max(0, startTime - began)
    const failure = request.failure()?.errorText
    return {
      id: ids.get(request)!,
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
    decodedBytes: body?.length ?? 0,
  }
}

/** An answer that is withheld from the page may never be handed out. */
const known = <T>(asked: Promise<T>): Promise<T | null> => withinTime(ANSWER_MS, asked, '').catch(() => null)

/** Of a worker's own script the browser does not tell the bytes that came. */
function bodyOnWire(headers: Record<string, string>, body: Buffer | null): number {
  const told = Number(headers['content-length'] ?? NaN)
  if (Number.isFinite(told)) return told
  return headers['content-encoding'] === undefined ? (body?.length ?? 0) : 0
}
