import { findInlineCode } from '../reading/inline-code.js'
import type { InlineCode, Reading, RequestRecord } from '../reading/reading.js'
import { parseServerTiming } from '../server-timing/parse.js'
import { headersOfEntry, initiatorOfEntry, transferOfEntry, typeOfEntry, type HarEntry, type HarPage } from './har.js'
import { JsonItems, type JsonItem } from './json-items.js'

/** A HAR file that can't be taken, with the place in it and what was expected there. */
export class HarProblem extends Error {
  constructor(
    readonly at: string,
    readonly expected: string,
  ) {
    super(`${at}: expected ${expected}.`)
  }
}

const MOST_ENTRIES = 500_000
const LONGEST_HTML = 8_000_000

interface PageAtHand {
  page: HarPage | null
  entries: { record: RequestRecord; startedAt: number; redirectUrl: string; waitMs: number }[]
  inlineCode: InlineCode[]
}

/**
 * Reads HAR 1.2 piece by piece and makes a reading of each page in it. Of an entry only what a reading keeps is held, so
 * that memory goes with the number of requests and not with the bodies.
 */
export class HarReader {
  private readonly items = new JsonItems(new Set(['log.pages', 'log.entries']))
  private readonly pages = new Map<string, HarPage>()
  private readonly atHand = new Map<string, PageAtHand>()
  private entries = 0

  /** @throws HarProblem or JsonProblem; then nothing of the file is to be used. */
  push(chunk: Uint8Array): void {
    for (const item of this.items.push(chunk)) {
      if (item.path === 'log.pages') this.takePage(item)
      else this.takeEntry(item)
    }
  }

  /** The readings, in the file's order. @throws HarProblem or JsonProblem */
  end(): Reading[] {
    this.items.end()
    if (this.entries === 0) throw new HarProblem('log.entries', 'at least one request')
    return [...this.atHand].map(([id, page]) => toReading(page, this.pages.get(id) ?? null))
  }

  private takePage(item: JsonItem): void {
    const page = parse(item) as unknown as HarPage
    const at = placeOf(item)
    if (typeof page.id !== 'string') throw new HarProblem(`${at}.id`, 'a text')
    if (Number.isNaN(Date.parse(page.startedDateTime))) throw new HarProblem(`${at}.startedDateTime`, 'a date and time')
    this.pages.set(page.id, page)
  }

  private takeEntry(item: JsonItem): void {
    if (++this.entries > MOST_ENTRIES) throw new HarProblem('log.entries', `at most ${MOST_ENTRIES} requests`)
    const entry = checked(parse(item), placeOf(item))
    // What is no request over the network is none of a reading.
    if (!/^(https?|wss?):/i.test(entry.request.url)) return
    const id = entry.pageref ?? ''
    const page = this.atHand.get(id) ?? { page: null, entries: [], inlineCode: [] }
    this.atHand.set(id, page)
    const type = typeOfEntry(entry)
    const first = page.entries.every(({ record }) => record.type !== 'document' || isRedirect(record))
    const record = toRecord(entry, `har-${item.index}`, type === 'document' && !first ? 'frame' : type)
    if (record.type === 'document' && !isRedirect(record)) page.inlineCode = inlineOf(entry)
    page.entries.push({
      record,
      startedAt: Date.parse(entry.startedDateTime),
      redirectUrl: entry.response.redirectURL ?? '',
      waitMs: waitOf(entry),
    })
  }
}

const placeOf = ({ path, index }: JsonItem) => `${path}[${index}]`
const isRedirect = ({ status }: RequestRecord) => status !== null && status >= 300 && status < 400 && status !== 304

function parse(item: JsonItem): Record<string, unknown> {
  try {
    return JSON.parse(item.text) as Record<string, unknown>
  } catch (error) {
    throw new HarProblem(placeOf(item), `JSON (${(error as Error).message.slice(0, 120)})`)
  }
}

/** @throws HarProblem at the first field that is not as the specification has it. */
function checked(value: Record<string, unknown>, at: string): HarEntry {
  const entry = value as unknown as HarEntry
  const must = (holds: boolean, field: string, expected: string) => {
    if (!holds) throw new HarProblem(`${at}.${field}`, expected)
  }
  must(typeof entry.request === 'object' && entry.request !== null, 'request', 'an object')
  must(typeof entry.request.url === 'string' && URL.canParse(entry.request.url), 'request.url', 'an address')
  must(typeof entry.request.method === 'string', 'request.method', 'a text')
  must(!Number.isNaN(Date.parse(entry.startedDateTime)), 'startedDateTime', 'a date and time')
  must(typeof entry.response === 'object' && entry.response !== null, 'response', 'an object')
  must(Number.isInteger(entry.response.status), 'response.status', 'a whole number')
  must(Array.isArray(entry.response.headers), 'response.headers', 'a list')
  must(
    entry.response.headers.every((h) => typeof h?.name === 'string' && typeof h.value === 'string'),
    'response.headers',
    'a list of names and values',
  )
  must(typeof entry.response.content === 'object' && entry.response.content !== null, 'response.content', 'an object')
  must(Number.isFinite(entry.time ?? 0), 'time', 'milliseconds')
  return entry
}

function toRecord(entry: HarEntry, id: string, type: RequestRecord['type']): RequestRecord {
  const { request, response } = entry
  const failure = response._failureText ?? response._error
  const fromCache = entry._fromCache !== undefined || (entry.cache?.beforeRequest ?? null) !== null
  return {
    id,
    url: request.url,
    method: request.method,
    type,
    status: response.status > 0 ? response.status : null,
    mimeType: (response.content.mimeType ?? '').split(';')[0]!.trim().slice(0, 100),
    protocol: (response.httpVersion ?? request.httpVersion ?? '').toLowerCase().slice(0, 20),
    priority: (entry._priority ?? '').slice(0, 20),
    startedMs: 0,
    endedMs: entry.time >= 0 ? entry.time : null,
    transferBytes: fromCache ? 0 : transferOfEntry(entry),
    decodedBytes: Math.max(0, Math.round(response.content.size || 0)),
    fromCache,
    renderBlocking: false,
    initiator: initiatorOfEntry(entry),
    frameUrl: '',
    ...(failure ? { failure: String(failure).slice(0, 200) } : {}),
    responseHeaders: headersOfEntry(entry),
  }
}

function inlineOf({ response: { content } }: HarEntry): InlineCode[] {
  if (content.text === undefined || content.encoding === 'base64' || content.text.length > LONGEST_HTML) return []
  return findInlineCode(content.text)
}

const waitOf = ({ timings: t, time }: HarEntry) =>
  t ? [t.blocked, t.dns, t.connect, t.send, t.wait].reduce<number>((sum, ms) => sum + Math.max(0, ms ?? 0), 0) : time

function toReading({ entries, inlineCode }: PageAtHand, page: HarPage | null): Reading {
  const zero = page ? Date.parse(page.startedDateTime) : Math.min(...entries.map(({ startedAt }) => startedAt))
  const awaited = new Map<string, string>()
  for (const { record, startedAt, redirectUrl } of entries) {
    record.startedMs = Math.max(0, startedAt - zero)
    if (record.endedMs !== null) record.endedMs += record.startedMs
    const from = awaited.get(record.url)
    if (from !== undefined) {
      awaited.delete(record.url)
      record.redirectedFrom = from
      record.initiator = { type: 'redirect' }
    }
    if (redirectUrl !== '' && URL.canParse(redirectUrl, record.url))
      awaited.set(new URL(redirectUrl, record.url).href, record.id)
  }
  const documents = entries.filter(({ record }) => record.type === 'document')
  const document = documents.at(-1)
  const first = entries[0]!.record
  for (const { record } of entries) record.frameUrl = document?.record.url ?? first.url
  const milliseconds = (value: number | null | undefined) => (typeof value === 'number' && value >= 0 ? value : null)
  return {
    url: (documents[0]?.record ?? first).url,
    finalUrl: document?.record.url ?? first.url,
    title: (page?.title ?? '').slice(0, 500),
    requests: entries.map(({ record }) => record),
    inlineCode,
    serverTiming: parseServerTiming(document?.record.responseHeaders['server-timing'] ?? ''),
    timings: {
      ttfb: document ? document.record.startedMs + document.waitMs : null,
      firstContentfulPaint: null,
      largestContentfulPaint: null,
      domContentLoaded: milliseconds(page?.pageTimings?.onContentLoad),
      load: milliseconds(page?.pageTimings?.onLoad),
      quiet: null,
      totalBlockingTime: null,
      longestTask: null,
      answers: null,
      cumulativeLayoutShift: null,
    },
    domElements: 0,
    fileUse: [],
    steps: [],
    laterUse: [],
    companions: [],
    elementMakers: [],
    mainThread: [],
    fonts: [],
    traceId: null,
    rulesVersion: document?.record.responseHeaders['unvelt-rules'] ?? null,
    consoleErrors: [],
  }
}
