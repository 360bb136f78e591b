import type { Attribution } from '../attribution/attribute.js'
import type { Initiator, Reading, RequestRecord, RequestType } from '../reading/reading.js'
import type { HarEntry, HarPage } from './har.js'

const TYPE_NAMES: Partial<Record<RequestType, string>> = {
  style: 'stylesheet',
  picture: 'image',
  socket: 'websocket',
  frame: 'document',
}

/** A reading as a HAR 1.2 page with its entries. `at` is when it was taken; payers go along where they are given. */
export function toHar(
  reading: Reading,
  id: string,
  at: Date,
  attribution?: Attribution,
): { page: HarPage; entries: HarEntry[] } {
  const nextOf = new Map(
    reading.requests.flatMap((r) => (r.redirectedFrom ? [[r.redirectedFrom, r.url] as const] : [])),
  )
  return {
    page: {
      id,
      startedDateTime: at.toISOString(),
      title: reading.title || reading.url,
      pageTimings: {
        onContentLoad: reading.timings.domContentLoaded ?? -1,
        onLoad: reading.timings.load ?? -1,
      },
    },
    entries: reading.requests.map((request) => ({
      ...entryOf(request, id, at, nextOf.get(request.id) ?? ''),
      ...payerOf(attribution, request.id),
    })),
  }
}

/** The beginning and end of a file that holds any number of pages and entries between them. */
export const HAR_CREATOR = { name: 'Unvelt', version: '0.1.0' }

function entryOf(request: RequestRecord, pageref: string, at: Date, redirectURL: string): HarEntry {
  const time = request.endedMs === null ? 0 : request.endedMs - request.startedMs
  const headers = Object.entries(request.responseHeaders).map(([name, value]) => ({ name, value }))
  const httpVersion = request.protocol || 'HTTP/1.1'
  return {
    pageref,
    startedDateTime: new Date(at.getTime() + request.startedMs).toISOString(),
    time,
    request: {
      method: request.method,
      url: request.url,
      httpVersion,
      ...{ cookies: [], headers: [], queryString: queryOf(request.url), headersSize: -1, bodySize: -1 },
    },
    response: {
      status: request.status ?? 0,
      httpVersion,
      headers,
      redirectURL,
      headersSize: -1,
      bodySize: -1,
      content: { size: request.decodedBytes, mimeType: request.mimeType },
      _transferSize: request.sizeUnknown ? -1 : request.transferBytes,
      _failureText: request.failure ?? null,
      ...{ statusText: '', cookies: [] },
    },
    cache: {},
    timings: { send: 0, wait: time, ...{ receive: 0 } },
    _resourceType: TYPE_NAMES[request.type] ?? request.type,
    _priority: request.priority,
    ...(request.fromCache && { _fromCache: 'memory' }),
    _initiator: initiatorOf(request.initiator),
  }
}

const queryOf = (url: string) => [...new URL(url).searchParams].map(([name, value]) => ({ name, value }))

function initiatorOf({ type, url, line, stack }: Initiator): HarEntry['_initiator'] {
  return {
    type,
    ...(url !== undefined && { url }),
    ...(line !== undefined && { lineNumber: line }),
    ...(stack && {
      stack: {
        callFrames: stack.map((frame) => ({ url: frame.url, lineNumber: frame.line, columnNumber: frame.column })),
      },
    }),
  }
}

function payerOf(attribution: Attribution | undefined, id: string) {
  const charge = attribution?.requests.get(id)
  return charge && { _payer: charge.payer, _evidence: charge.evidence }
}
