import { findInlineCode } from '../reading/inline-code.js'
import type { InlineCode, Reading, RequestRecord } from '../reading/reading.js'
import { parseServerTiming } from '../server-timing/parse.js'
import { checkedEntry, checkedPage } from './har-entry.js'
import { HarProblem } from './har-problem.js'
import {
  cachedOfEntry,
  headersOfEntry,
  initiatorOfEntry,
  transferOfEntry,
  typeOfEntry,
  type HarEntry,
  type HarPage,
} from './har.js'
import { JsonItems, type JsonItem } from './json-items.js'

const MOST_ENTRIES = 500_000
const LONGEST_HTML = 8_000_000

interface PageAtHand {
  /** A document that is no redirect has come; further ones are frames. */
  hasDocument: boolean
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
    const page = checkedPage(parse(item), placeOf(item))
    this.pages.set(page.id, page)
  }

  private takeEntry(item: JsonItem): void {
    if (++this.entries > MOST_ENTRIES) throw new HarProblem('log.entries', `at most ${MOST_ENTRIES} requests`)
    const entry = checkedEntry(parse(item), placeOf(item))
    // What is no request over the network is none of a reading.
    if (!/^(https?|wss?):/i.test(entry.request.url)) return
    const id = entry.pageref ?? ''
    const page = this.atHand.get(id) ?? { hasDocument: false, entries: [], inlineCode: [] }
    this.atHand.set(id, page)
    const type = typeOfEntry(entry)
    const record = toRecord(entry, `har-${item.index}`, type === 'document' && page.hasDocument ? 'frame' : type)
    if (record.type === 'document' && !isRedirect(record)) {
      page.hasDocument = true
      page.inlineCode = inlineOf(entry)
    }
    page.entries.push({
      record,
      startedAt: Date.parse(entry.startedDateTime),
      redirectUrl: entry.response.redirectURL || (isRedirect(record) ? (record.responseHeaders.location ?? '') : ''),
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

function toRecord(entry: HarEntry, id: string, type: RequestRecord['type']): RequestRecord {
  const { request, response } = entry
  const failure = response._failureText ?? response._error
  const fromCache = cachedOfEntry(entry)
  const transferBytes = fromCache ? 0 : transferOfEntry(entry)
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
    endedMs: entry.time !== undefined && entry.time >= 0 ? entry.time : null,
    transferBytes: transferBytes ?? 0,
    ...(transferBytes === null && { sizeUnknown: true as const }),
    decodedBytes: Math.max(0, Math.round(response.content.size ?? 0)),
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
  t
    ? [t.blocked, t.dns, t.connect, t.send, t.wait].reduce<number>((sum, ms) => sum + Math.max(0, ms ?? 0), 0)
    : Math.max(0, time ?? 0)

/** Fragments are kept by browsers and never sent. */
const withoutHash = (address: string) => address.split('#', 1)[0]!

function toReading({ entries, inlineCode }: PageAtHand, page: HarPage | null): Reading {
  const zero = page
    ? Date.parse(page.startedDateTime)
    : entries.reduce((least, { startedAt }) => Math.min(least, startedAt), Infinity)
  const awaited = new Map<string, string>()
  for (const { record, startedAt, redirectUrl } of entries) {
    record.startedMs = Math.max(0, startedAt - zero)
    if (record.endedMs !== null) record.endedMs += record.startedMs
    const address = withoutHash(record.url)
    const from = awaited.get(address)
    if (from !== undefined) {
      awaited.delete(address)
      record.redirectedFrom = from
      record.initiator = { type: 'redirect' }
    }
    if (redirectUrl !== '' && URL.canParse(redirectUrl, record.url))
      awaited.set(withoutHash(new URL(redirectUrl, record.url).href), record.id)
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
