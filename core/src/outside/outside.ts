import type { Attribution } from '../attribution/attribute.js'
import type { Reading, RequestRecord } from '../reading/reading.js'
import { wentOut } from '../reading/totals.js'
import { whoAsked, type Asker } from './who-asked.js'

/** What came from one host for one payer. Bytes are those on the wire. */
export interface HostShare {
  payer: string
  host: string
  requests: number
  transferBytes: number
  /** Milliseconds until the slowest of its answers was there. */
  slowestMs: number
  /** Requests that came to nothing: no answer, or one from 500 on. */
  failed: number
}

/** Who asked an outsider for something: another outsider, or the page with its own files (null). */
export interface BroughtIn {
  from: string | null
  to: string
  how: Asker['how']
  requests: number
}

export interface OutsideOfPage {
  /** Hosts of the site's own, taken together. */
  own: { requests: number; transferBytes: number }
  hosts: HostShare[]
  brought: BroughtIn[]
  /** Chains of redirects that touch an outsider, address by address. */
  chains: string[][]
}

/** What of a reading came from outside, from whom, and who brought it in. `ownHosts` with port, delivery hosts included. */
export function outsideOf(reading: Reading, attribution: Attribution, ownHosts: readonly string[]): OutsideOfPage {
  const own = { requests: 0, transferBytes: 0 }
  const hosts = new Map<string, HostShare>()
  const brought = new Map<string, BroughtIn>()
  const byId = new Map(reading.requests.map((request) => [request.id, request]))
  const byUrl = new Map(reading.requests.map((request) => [request.url, request]))
  const outsider = (url: string): string | null => {
    const host = hostOf(url)
    return host === null || ownHosts.includes(host) ? null : host
  }
  for (const request of reading.requests) {
    const host = outsider(request.url)
    if (host === null) {
      own.requests += wentOut(request) ? 1 : 0
      own.transferBytes += request.transferBytes
      continue
    }
    const { payer } = attribution.requests.get(request.id)!
    const key = `${payer}\n${host}`
    const share = hosts.get(key) ?? { payer, host, requests: 0, transferBytes: 0, slowestMs: 0, failed: 0 }
    share.requests += wentOut(request) ? 1 : 0
    share.transferBytes += request.transferBytes
    if (request.endedMs !== null) share.slowestMs = Math.max(share.slowestMs, request.endedMs - request.startedMs)
    if (cameToNothing(request)) share.failed += 1
    hosts.set(key, share)
    const { url: asking, how } = whoAsked(request, byId, byUrl)
    const from = asking === null ? null : outsider(asking)
    const edge = `${from}\n${host}\n${how}`
    const entry = brought.get(edge) ?? { from, to: host, how, requests: 0 }
    entry.requests += 1
    // What a host asks of itself brings nobody in.
    if (from !== host) brought.set(edge, entry)
  }
  return { own, hosts: [...hosts.values()], brought: [...brought.values()], chains: redirectChains(reading, outsider) }
}

/** What the page's own policy, a rule or the page itself put an end to (DevTools' `blockedReason`, `cancelled`) says nothing of the host. */
const cameToNothing = ({ failure, status }: RequestRecord): boolean =>
  failure !== undefined ? /^net::ERR_(?!ABORTED|BLOCKED)/.test(failure) : (status ?? 0) >= 500

function redirectChains(reading: Reading, outsider: (url: string) => string | null): string[][] {
  const byId = new Map(reading.requests.map((request) => [request.id, request]))
  const goesOn = new Set(reading.requests.flatMap((request) => request.redirectedFrom ?? []))
  const chains: string[][] = []
  for (const last of reading.requests) {
    if (!last.redirectedFrom || goesOn.has(last.id)) continue
    const chain = [last.url]
    const seen = new Set([last.id])
    for (
      let at = byId.get(last.redirectedFrom);
      at && !seen.has(at.id);
      at = at.redirectedFrom ? byId.get(at.redirectedFrom) : undefined
    ) {
      seen.add(at.id)
      chain.unshift(at.url)
    }
    if (chain.some((url) => outsider(url) !== null)) chains.push(chain)
  }
  return chains
}

function hostOf(url: string): string | null {
  return URL.canParse(url) ? new URL(url).host : null
}
