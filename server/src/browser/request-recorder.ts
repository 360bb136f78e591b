import type { CDPSession } from 'playwright-core'
import type { Protocol } from 'devtools-protocol'
import { GIVEN_UP, KEPT_HEADERS, type Initiator, type RequestRecord, type RequestType } from '@unvelt/core'
import { LONGEST_TEXT } from './limits.js'

const TYPES: Partial<Record<Protocol.Network.ResourceType, RequestType>> = {
  Document: 'document',
  Script: 'script',
  Stylesheet: 'style',
  Font: 'font',
  Image: 'picture',
  Media: 'media',
  Fetch: 'fetch',
  XHR: 'fetch',
  EventSource: 'socket',
  WebSocket: 'socket',
  Ping: 'ping',
}

interface Open {
  record: RequestRecord
  /** Bytes of head and body seen so far, in case it never ends well. */
  headerBytes: number
  bodyBytes: number
}

/** Writes down every request of a page from the browser's own network events. */
export class RequestRecorder {
  records: RequestRecord[] = []
  /** Of the whole reading, steps included. */
  count = 0
  transferBytes = 0
  decodedBytes = 0
  private readonly open = new Map<string, Open>()
  /** Failed requests, whose head may be heard of only after their end. */
  private readonly failed = new Map<string, RequestRecord>()
  /** Heads that were heard of before their request. */
  private readonly early = new Map<string, { bytes: number; status: number }>()
  private startedAt: number | null = null
  private hops = 0
  private line: number | null = null

  constructor(
    session: CDPSession,
    private readonly mainFrameId: string,
    private readonly onChange: () => void,
  ) {
    session.on('Network.requestWillBeSent', (event) => this.begin(event))
    session.on('Network.requestServedFromCache', ({ requestId }) => {
      const open = this.open.get(requestId)
      if (open) open.record.fromCache = true
    })
    session.on('Network.responseReceived', ({ requestId, response }) => {
      const open = this.open.get(requestId)
      if (open) this.answer(open, response)
    })
    session.on('Network.responseReceivedExtraInfo', ({ requestId, headersText, statusCode }) =>
      this.hearHead(requestId, headersText?.length ?? 0, statusCode),
    )
    session.on('Network.dataReceived', ({ requestId, dataLength, encodedDataLength }) => {
      const open = this.open.get(requestId)
      if (!open) return
      open.record.decodedBytes += dataLength
      open.bodyBytes += encodedDataLength
      this.transferBytes += encodedDataLength
      this.decodedBytes += dataLength
      this.onChange()
    })
    session.on('Network.loadingFinished', ({ requestId, timestamp, encodedDataLength }) => {
      const open = this.open.get(requestId)
      // Not a byte came, not even a head: two frames asked for one file at once, and the browser fetched it once.
      if (open && encodedDataLength === 0) open.record.fromCache = true
      this.end(requestId, timestamp, encodedDataLength)
    })
    session.on('Network.loadingFailed', ({ requestId, timestamp, errorText, blockedReason, canceled }) => {
      const open = this.open.get(requestId)
      if (open) {
        open.record.failure = blockedReason ?? (canceled ? GIVEN_UP : errorText)
        this.failed.set(requestId, open.record)
      }
      this.end(requestId, timestamp, null)
    })
  }

  /** Requests under way that count for quiet: sockets and pings go on for ever by nature. */
  get underWay(): number {
    let count = 0
    for (const { record } of this.open.values()) if (record.type !== 'socket' && record.type !== 'ping') count += 1
    return count
  }

  /** Addresses of requests that have not ended. */
  get stillUnderWay(): string[] {
    return [...this.open.values()].map(({ record }) => record.url)
  }

  /** Whether the script of a worker is still under way. */
  isOpen = (url: string): boolean => [...this.open.values()].some(({ record }) => record.url === url)

  /** Ends the request for a worker's script, of whose end this session is not told. */
  endWorker(url: string, tookMs: number, transferBytes: number, decodedBytes: number): void {
    const [id, open] = [...this.open].find(([, { record }]) => record.url === url) ?? []
    if (id === undefined || !open) return
    this.open.delete(id)
    open.record.decodedBytes ||= decodedBytes
    open.record.transferBytes = open.record.fromCache ? 0 : transferBytes
    open.record.endedMs = open.record.startedMs + Math.max(0, tookMs)
    this.transferBytes += transferBytes
    this.onChange()
  }

  /** Milliseconds after navigation start of a browser timestamp (seconds). */
  sinceStart(timestamp: number): number {
    return Math.max(0, (timestamp - (this.startedAt ?? timestamp)) * 1000)
  }

  /** The request that brought the page itself, after redirects. */
  get document(): RequestRecord | undefined {
    return this.records.filter((record) => record.type === 'document').at(-1)
  }

  private begin(event: Protocol.Network.RequestWillBeSentEvent): void {
    const { requestId, request, redirectResponse, timestamp } = event
    if (!/^(https?|wss?):/.test(request.url)) return
    this.startedAt ??= timestamp
    let redirectedFrom: string | undefined
    const hop = this.open.get(requestId)
    if (hop && redirectResponse) {
      // The browser keeps one id for the whole chain; each hop is a request of its own here.
      this.answer(hop, redirectResponse)
      hop.record.id = `${requestId}.${this.hops++}`
      redirectedFrom = hop.record.id
      this.close(hop, timestamp, redirectResponse.encodedDataLength)
    }
    const record: RequestRecord = {
      id: requestId,
      url: request.url,
      method: request.method,
      type: this.typeOf(event),
      status: null,
      mimeType: '',
      protocol: '',
      priority: request.initialPriority,
      startedMs: this.sinceStart(timestamp),
      endedMs: null,
      transferBytes: 0,
      decodedBytes: 0,
      fromCache: false,
      renderBlocking: false,
      initiator: redirectedFrom ? { type: 'redirect' } : initiatorOf(event),
      ...(redirectedFrom !== undefined && { redirectedFrom }),
      frameUrl: event.documentURL,
      responseHeaders: {},
    }
    this.records.push(record)
    this.count++
    this.open.set(requestId, { record, headerBytes: 0, bodyBytes: 0 })
    const early = this.early.get(requestId)
    if (early) {
      this.early.delete(requestId)
      this.hearHead(requestId, early.bytes, early.status)
    }
    this.onChange()
  }

  private typeOf({ type, frameId }: Protocol.Network.RequestWillBeSentEvent): RequestType {
    if (type === 'Document' && frameId !== this.mainFrameId) return 'frame'
    return TYPES[type ?? 'Other'] ?? 'other'
  }

  private answer({ record }: Open, response: Protocol.Network.Response): void {
    record.status = response.status
    record.mimeType = response.mimeType
    record.protocol = response.protocol ?? ''
    record.fromCache ||= response.fromDiskCache ?? false
    for (const [name, value] of Object.entries(response.headers as Record<string, string>)) {
      const key = name.toLowerCase()
      // Server-Timing is read whole; whatever else a site sends is cut.
      if (KEPT_HEADERS.has(key))
        record.responseHeaders[key] = value.slice(0, key === 'server-timing' ? 65_536 : LONGEST_TEXT)
    }
  }

  /** The head of an answer as it came over the wire: all that is known of one that is withheld from the page. */
  private hearHead(requestId: string, bytes: number, status: number): void {
    const open = this.open.get(requestId)
    if (open) open.headerBytes = bytes
    const failed = this.failed.get(requestId)
    if (failed) failed.transferBytes += bytes
    const record = open?.record ?? failed
    if (record) record.status ??= status
    // The two kinds of events come over different ways, and the head's may overtake the request's.
    else this.early.set(requestId, { bytes, status })
  }

  private end(requestId: string, timestamp: number, encodedBytes: number | null): void {
    const open = this.open.get(requestId)
    if (!open) return
    this.open.delete(requestId)
    this.close(open, timestamp, encodedBytes ?? open.headerBytes + open.bodyBytes)
  }

  private close({ record }: Open, timestamp: number, encodedBytes: number): void {
    record.endedMs = this.sinceStart(timestamp)
    record.transferBytes = record.fromCache ? 0 : encodedBytes
    this.onChange()
  }

  /** Whatever begins from here on is left over by the next `take`. */
  drawLine(): void {
    this.line = this.records.length
  }

  /**
   * The records since the last call, up to the line if there is one. What is still under way counts with the bytes that
   * came; whatever comes of it later is nobody's.
   */
  take(): RequestRecord[] {
    const taken = new Set(this.records.splice(0, this.line ?? this.records.length))
    this.line = null
    for (const [id, { record, headerBytes, bodyBytes }] of this.open) {
      if (!taken.has(record)) continue
      record.transferBytes = headerBytes + bodyBytes
      this.open.delete(id)
    }
    return [...taken]
  }
}

function initiatorOf({ initiator, request }: Protocol.Network.RequestWillBeSentEvent): Initiator {
  // The browser calls a preload by whoever has put its tag there.
  const type = request.isLinkPreload
    ? 'preload'
    : ({ parser: 'parser', script: 'script', preload: 'preload' }[initiator.type as string] ?? 'other')
  const stack = flattenStack(initiator.stack)
  const first = stack[0]
  return {
    type: type as Initiator['type'],
    ...((initiator.url ?? first?.url) !== undefined && { url: initiator.url ?? first?.url }),
    ...((initiator.lineNumber ?? first?.line) !== undefined && { line: initiator.lineNumber ?? first?.line }),
    ...(stack.length > 0 && { stack }),
  }
}

const MOST_FRAMES = 60

/** The call stack, with what called it asynchronously behind it; innermost call first. */
function flattenStack(stack: Protocol.Runtime.StackTrace | undefined): NonNullable<Initiator['stack']> {
  const frames: NonNullable<Initiator['stack']> = []
  for (let at = stack; at && frames.length < MOST_FRAMES; at = at.parent)
    for (const { url, lineNumber, columnNumber } of at.callFrames)
      if (url && frames.length < MOST_FRAMES) frames.push({ url, line: lineNumber, column: columnNumber })
  return frames
}
