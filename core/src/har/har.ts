import type { Initiator, RequestRecord, RequestType } from '../reading/reading.js'

/** What Unvelt reads of HAR 1.2 (http://www.softwareishard.com/blog/har-12-spec/). Names with an underscore are extensions. */
export interface HarEntry {
  pageref?: string
  startedDateTime: string
  /** Milliseconds. */
  time: number
  request: { method: string; url: string; httpVersion?: string }
  response: {
    status: number
    httpVersion?: string
    headers: { name: string; value: string }[]
    redirectURL?: string
    /** Bytes; -1 where they aren't known. */
    headersSize?: number
    bodySize?: number
    content: { size: number; mimeType?: string; text?: string; encoding?: string }
    _transferSize?: number
    _failureText?: string | null
    _error?: string | null
  }
  cache?: { beforeRequest?: unknown }
  timings?: { wait?: number; blocked?: number; dns?: number; connect?: number; ssl?: number; send?: number }
  _resourceType?: string
  _priority?: string
  _fromCache?: string
  _initiator?: { type?: string; url?: string; lineNumber?: number; stack?: HarStack }
}

export interface HarStack {
  callFrames: { url: string; lineNumber: number; columnNumber: number }[]
  parent?: HarStack
}

export interface HarPage {
  id: string
  startedDateTime: string
  title?: string
  pageTimings?: { onContentLoad?: number | null; onLoad?: number | null }
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
  const said = HAR_TYPES[(entry._resourceType ?? '').toLowerCase()]
  if (said) return said
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
  for (let at = said.stack; at && stack.length < MOST_FRAMES; at = at.parent)
    for (const { url, lineNumber, columnNumber } of at.callFrames)
      if (url && stack.length < MOST_FRAMES) stack.push({ url, line: lineNumber, column: columnNumber })
  const [first] = stack
  const url = said.url ?? first?.url
  const line = said.lineNumber ?? first?.line
  return {
    type: KNOWN_INITIATORS[said.type ?? ''] ?? 'other',
    ...(url !== undefined && { url }),
    ...(line !== undefined && { line }),
    ...(stack.length > 0 && { stack }),
  }
}

/** Bytes on the wire: what the recorder measured, or head and body as far as they are known. */
export function transferOfEntry({ response }: HarEntry): number {
  const { _transferSize, headersSize = -1, bodySize = -1 } = response
  if (typeof _transferSize === 'number' && _transferSize >= 0) return Math.round(_transferSize)
  return Math.max(0, headersSize) + Math.max(0, bodySize)
}

/** The headers that a reading keeps, in small letters. */
export function headersOfEntry({ response }: HarEntry): RequestRecord['responseHeaders'] {
  const kept: Record<string, string> = {}
  for (const { name, value } of response.headers) {
    const key = name.toLowerCase()
    if (KEPT_HEADERS.has(key)) kept[key] = value.slice(0, key === 'server-timing' ? 65_536 : 500)
  }
  return kept
}

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
