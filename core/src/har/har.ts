import { framesOf } from './har-entry.js'
import type { Initiator, RequestRecord, RequestType } from '../reading/reading.js'

/** What Unvelt reads of HAR 1.2 (http://www.softwareishard.com/blog/har-12-spec/). Names with an underscore are extensions. */
export interface HarEntry {
  pageref?: string
  startedDateTime: string
  /** Milliseconds. */
  time?: number
  request: { method: string; url: string; httpVersion?: string }
  response: {
    status: number
    httpVersion?: string
    headers: { name: string; value: string }[]
    redirectURL?: string | null
    /** Bytes; -1 where they aren't known. */
    headersSize?: number | null
    bodySize?: number | null
    content: { size?: number; mimeType?: string; text?: string; encoding?: string }
    _transferSize?: number | null
    _failureText?: string | null
    _error?: string | null
  }
  cache?: { beforeRequest?: unknown } | null
  timings?: Partial<Record<'wait' | 'blocked' | 'dns' | 'connect' | 'ssl' | 'send', number | null>> | null
  _resourceType?: string | null
  _priority?: string | null
  _fromCache?: unknown
  _initiator?: {
    type?: string | null
    url?: string | null
    lineNumber?: number | null
    stack?: HarStack | null
  } | null
}

export interface HarStack {
  callFrames: { url: string; lineNumber: number; columnNumber?: number }[]
  parent?: HarStack | null
}

export interface HarPage {
  id: string
  startedDateTime: string
  title?: string | null
  pageTimings?: { onContentLoad?: number | null; onLoad?: number | null } | null
}

export const HAR_TYPES: Record<string, RequestType> = {
  document: 'document',
  script: 'script',
  stylesheet: 'style',
  font: 'font',
  image: 'picture',
  media: 'media',
  fetch: 'fetch',
  xhr: 'fetch',
  eventsource: 'socket',
  websocket: 'socket',
  ping: 'ping',
  beacon: 'ping',
}

/** A request's type by what the recorder said, or else by what came. */
export function typeOfEntry(entry: HarEntry): RequestType {
  const word = (entry._resourceType ?? '').toLowerCase()
  if (Object.hasOwn(HAR_TYPES, word)) return HAR_TYPES[word]!
  const mime = (entry.response.content.mimeType ?? '').toLowerCase()
  if (/javascript|ecmascript/.test(mime)) return 'script'
  if (mime.startsWith('text/css')) return 'style'
  if (mime.startsWith('text/html') || mime.startsWith('application/xhtml')) return 'document'
  if (mime.startsWith('image/')) return 'picture'
  if (/^(font\/|application\/(x-)?font)/.test(mime)) return 'font'
  if (/^(video|audio)\//.test(mime)) return 'media'
  return /json|xml/.test(mime) ? 'fetch' : 'other'
}

const KNOWN_INITIATORS: Record<string, Initiator['type']> = { parser: 'parser', script: 'script', preload: 'preload' }
const MOST_FRAMES = 60

export function initiatorOfEntry({ _initiator: said }: HarEntry): Initiator {
  if (!said) return { type: 'other' }
  const stack: NonNullable<Initiator['stack']> = []
  for (const { url, lineNumber, columnNumber = 0 } of framesOf(said.stack)) {
    if (stack.length >= MOST_FRAMES) break
    if (url) stack.push({ url, line: lineNumber, column: columnNumber })
  }
  const [first] = stack
  const url = said.url ?? first?.url
  const line = said.lineNumber ?? first?.line
  const type = said.type ?? ''
  return {
    type: Object.hasOwn(KNOWN_INITIATORS, type) ? KNOWN_INITIATORS[type]! : 'other',
    ...(url !== undefined && { url }),
    ...(line !== undefined && { line }),
    ...(stack.length > 0 && { stack }),
  }
}

/** Bytes on the wire: what the recorder measured, or head and body as far as they are known. Null where neither is. */
export function transferOfEntry({ response }: HarEntry): number | null {
  const { _transferSize, headersSize, bodySize } = response
  if (typeof _transferSize === 'number' && _transferSize >= 0) return Math.round(_transferSize)
  const [head, body] = [headersSize ?? -1, bodySize ?? -1]
  if (body < 0 && (response.content.size ?? 0) > 0) return null
  return head < 0 && body < 0 ? null : Math.max(0, Math.round(head)) + Math.max(0, Math.round(body))
}

/**
 * Whether the browser had the file. HAR 1.2 (section "cache") tells only that the cache held an entry: it may have been asked
 * for anew all the same, and a 304 is an answer that came over the line.
 */
export function cachedOfEntry({ _fromCache, cache, response }: HarEntry): boolean {
  if (_fromCache !== undefined && _fromCache !== null) return _fromCache !== false && _fromCache !== ''
  if ((cache?.beforeRequest ?? null) === null || response.status === 304) return false
  const { _transferSize, bodySize } = response
  return !((_transferSize ?? 0) > 0 || (bodySize ?? 0) > 0)
}

/** The headers that a reading keeps, in small letters; several of one name that is a list joined (RFC 9110, section 5.3). */
export function headersOfEntry({ response }: HarEntry): RequestRecord['responseHeaders'] {
  const kept: Record<string, string> = {}
  for (const { name, value } of response.headers) {
    const key = name.toLowerCase()
    if (!KEPT_HEADERS.has(key)) continue
    const before = kept[key]
    if (before === undefined) kept[key] = value
    else if (LISTS.has(key)) kept[key] = `${before}, ${value}`
  }
  for (const key of Object.keys(kept)) kept[key] = kept[key]!.slice(0, key === 'server-timing' ? 65_536 : 500)
  return kept
}

/** Of the kept ones, those whose value is a list. */
const LISTS: ReadonlySet<string> = new Set([
  'cache-control',
  'cache-status',
  'content-encoding',
  'server-timing',
  'vary',
  'x-cache',
])

export const KEPT_HEADERS: ReadonlySet<string> = new Set([
  'age',
  'cache-control',
  'cache-status',
  'content-encoding',
  'content-type',
  'date',
  'etag',
  'expires',
  'last-modified',
  'location',
  'server-timing',
  'unvelt-rules',
  'vary',
  'x-cache',
  'x-page-cache',
])
