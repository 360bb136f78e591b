import { KEPT_HEADERS, parseServerTiming, type ServerReading } from '@unvelt/core'
import type { Reach } from '../reach/reach.js'
import { siteFetch } from '../site-http/site-fetch.js'
import { newTrace } from '../trace/trace-store.js'
import { measuringHeader, MEASURING_HEADER, type MeasuringWish } from '../site-http/measuring-header.js'

const MOST_BYTES = 50e6

export interface ServerQuestion {
  url: URL
  /** Of the site's connector; without it nobody can be asked to leave the caches out. */
  key: string | null
  cache: MeasuringWish['cache']
  reach: Reach
  siteId: number
  /** A form that is tried instead of a page that is asked for. */
  form?: Record<string, string> | undefined
  /** In whose role. */
  trial?: string | undefined
}

/** Asks for a page once, as a visitor's browser would ask for its HTML and nothing else. Redirects are not followed. */
export async function askServer({
  url,
  key,
  cache,
  reach,
  siteId,
  form,
  trial,
}: ServerQuestion): Promise<ServerReading & { traceId: string | null }> {
  const headers: Record<string, string> = { accept: 'text/html,*/*;q=0.8' }
  const trace = key ? newTrace(siteId) : null
  if (key && trace) {
    headers[MEASURING_HEADER] = measuringHeader(url, key, { rules: 'live', cache, trial }, Date.now() / 1000)
    headers.traceparent = trace.traceparent
  }
  const began = performance.now()
  const response = await siteFetch(url, {
    reach,
    headers,
    ...(form && { method: 'POST', body: new URLSearchParams(form) }),
  })
  const firstByteMs = performance.now() - began
  let bytes = 0
  for await (const chunk of response.body ?? []) {
    bytes += (chunk as Uint8Array).length
    if (bytes > MOST_BYTES) break
  }
  const kept = [...response.headers].filter(([name]) => KEPT_HEADERS.has(name))
  return {
    traceId: trace?.traceId ?? null,
    status: response.status,
    firstByteMs,
    endMs: performance.now() - began,
    bytes,
    headers: Object.fromEntries(
      kept.filter(([name]) => name !== 'server-timing').map(([n, v]) => [n, v.slice(0, 500)]),
    ),
    serverTiming: parseServerTiming(response.headers.get('server-timing')?.slice(0, 65_536) ?? ''),
  }
}
