import { createHash } from 'node:crypto'
import type { IncomingMessage } from 'node:http'
import { insideGate, withHashesAllowed, type AllowedHashes } from '@unvelt/core'
import { cookieThrough } from './cookie.js'
import type { GateSite } from './gate-site.js'

/** Headers that are about one connection, and not about what goes through it (RFC 9110, section 7.6.1). */
const OF_ONE_HOP = new Set([
  'connection',
  'keep-alive',
  'proxy-authenticate',
  'proxy-authorization',
  'proxy-connection',
  'te',
  'trailer',
  'transfer-encoding',
  'upgrade',
])
/** By these a site would know that it is shown in a frame, or answer that nothing has changed, though the rules have. */
const NOT_SENT_ON = new Set(['host', 'expect', 'sec-fetch-site', 'sec-fetch-mode', 'sec-fetch-dest', 'sec-fetch-user'])
const ABOUT_A_COPY = new Set(['if-none-match', 'if-modified-since', 'if-range', 'range'])
/** What says how the site is to be reached, and not what is there. */
const NOT_PASSED_BACK = new Set(['strict-transport-security', 'alt-svc', 'x-frame-options', 'public-key-pins'])
const OF_THE_BODY = new Set(['content-length', 'etag', 'last-modified', 'accept-ranges', 'content-md5', 'digest'])
/** What the gate itself can take apart. */
const ENCODINGS = new Set(['gzip', 'br', 'deflate', 'identity', '*'])
export const VIA = 'unvelt-gate'

type Pairs = [name: string, value: string][]

function pairs({ rawHeaders }: IncomingMessage): Pairs {
  const found: Pairs = []
  for (let i = 0; i + 1 < rawHeaders.length; i += 2) found.push([rawHeaders[i]!, rawHeaders[i + 1]!])
  return found
}

const ofThisHop = ({ headers }: IncomingMessage): Set<string> =>
  new Set([
    ...OF_ONE_HOP,
    ...String(headers.connection ?? '')
      .toLowerCase()
      .split(',')
      .map((name) => name.trim()),
  ])

/** Whether somebody goes to a page with a request, and doesn't only load a part of one. */
export const isVisit = ({ method, headers }: IncomingMessage): boolean =>
  (method === 'GET' || method === 'HEAD' || method === 'POST') &&
  (headers['sec-fetch-mode'] === undefined
    ? /text\/html/.test(headers.accept ?? '')
    : headers['sec-fetch-mode'] === 'navigate')

/** The headers that a request is sent on with, as a list of names and values in turn. */
export function sentOn(request: IncomingMessage, site: GateSite, gate: string, own: Record<string, string>): string[] {
  const hop = ofThisHop(request)
  const isPage = isVisit(request)
  const replaced = new Set(Object.keys(own).map((name) => name.toLowerCase()))
  const kept = pairs(request).flatMap(([name, value]): Pairs => {
    const key = name.toLowerCase()
    if (hop.has(key) || NOT_SENT_ON.has(key) || replaced.has(key) || (isPage && ABOUT_A_COPY.has(key))) return []
    if (key === 'accept-encoding') return [[name, decodable(value)]]
    if (key === 'origin' || key === 'referer') return [[name, ofSite(value, gate, site.origin)]]
    return [[name, value]]
  })
  const isChunked = request.headers['transfer-encoding'] !== undefined
  return [
    ['host', new URL(site.origin).host],
    ...kept,
    ...Object.entries(own),
    ['via', `1.1 ${VIA}`],
    ...(isChunked ? [['transfer-encoding', 'chunked']] : []),
  ].flat() as string[]
}

const decodable = (value: string) =>
  value
    .split(',')
    .filter((one) => ENCODINGS.has(one.split(';')[0]!.trim().toLowerCase()))
    .join(',') || 'identity'

const ofSite = (value: string, gate: string, origin: string) =>
  value === gate || value.startsWith(`${gate}/`) ? new URL(origin).origin + value.slice(gate.length) : value

/**
 * The headers that an answer is passed back with, as a list of names and values in turn.
 * @param first What is put first into the page, whose scripts its policy has to let run; null where the body stays as it is.
 */
export function passedBack(answer: IncomingMessage, site: GateSite, gate: string, first: string | null): string[] {
  const hop = ofThisHop(answer)
  const hashes = first === null ? NO_HASHES : hashesIn(first)
  let isFramed = false
  const kept = pairs(answer).flatMap(([name, value]): Pairs => {
    const key = name.toLowerCase()
    if (hop.has(key) || NOT_PASSED_BACK.has(key) || (first !== null && OF_THE_BODY.has(key))) return []
    if (first !== null && key === 'cache-control') return []
    switch (key) {
      case 'location':
      case 'content-location':
        return [[name, insideGate(value, site.origin, gate) ?? value]]
      case 'refresh':
        return [[name, value.replace(/(url\s*=\s*["']?)(.*)$/i, (_, before: string, to: string) => before + (insideGate(to, site.origin, gate) ?? to))]] // prettier-ignore
      case 'link':
        return [[name, value.replace(/<([^>]*)>/g, (all, to: string) => { const inside = insideGate(to, site.origin, gate); return inside === null ? all : `<${inside}>` })]] // prettier-ignore
      case 'access-control-allow-origin':
        return [[name, value === new URL(site.origin).origin ? gate : value]]
      case 'set-cookie':
        return [[name, cookieThrough(value, site.isSafe)]]
      case 'content-security-policy':
      case 'content-security-policy-report-only':
        isFramed ||= key === 'content-security-policy'
        return [[name, policyThrough(withHashesAllowed(value, hashes), site, gate, framing(site))]]
      default:
        return [[name, value]]
    }
  })
  return [
    ...kept,
    // Rules change from one moment to the next.
    ...(first !== null ? [['cache-control', 'no-store']] : []),
    ...(isFramed ? [] : [['content-security-policy', framing(site)]]),
  ].flat() as string[]
}

const framing = ({ framedBy }: GateSite) => `frame-ancestors 'self'${framedBy === null ? '' : ` ${framedBy}`}`

/** What a policy in the page itself becomes. By whom the page may be shown is said in a header alone (CSP Level 3, section 3.3). */
export const pagePolicy =
  (site: GateSite, gate: string) =>
  (policy: string): string =>
    policyThrough(policy, site, gate, null)

let lastOwn: { origin: string; source: RegExp } | null = null

/** By what a policy names the site's own origin. */
function ownSource(origin: string): RegExp {
  if (lastOwn?.origin !== origin)
    lastOwn = {
      origin,
      source: new RegExp(`^(?:https?://)?${new URL(origin).host.replace(/[.[\]]/g, '\\$&')}(?=/|$)`, 'i'),
    }
  return lastOwn.source
}

/** A policy that means by the site's own origin the gate's, and says by whom it may be shown. */
function policyThrough(policies: string, site: GateSite, gate: string, shown: string | null): string {
  const own = ownSource(site.origin)
  return policies
    .split(',')
    .map((policy) => {
      const kept = policy
        .split(';')
        .filter((directive) => !/^\s*(?:frame-ancestors|upgrade-insecure-requests|block-all-mixed-content)\b/i.test(directive))
        .map((directive) =>
          directive
            .split(' ')
            .map((source) => source.replace(own, gate))
            .join(' '),
        ) // prettier-ignore
      return [...kept, ...(shown === null ? [] : [` ${shown}`])].join(';').replace(/^;\s*/, '')
    })
    .join(',')
}

const NO_HASHES: AllowedHashes = { scripts: [], styles: [] }
let hashed: { html: string; hashes: AllowedHashes } | null = null

/** The scripts and styles in a piece of HTML, as a policy names them (CSP Level 3, section 2.3.1). */
export function hashesIn(html: string): AllowedHashes {
  // Most pages of a site are given the same.
  if (hashed?.html === html) return hashed.hashes
  const of = (element: RegExp) =>
    [...html.matchAll(element)].map(
      ([, text]) => `'sha256-${createHash('sha256').update(text!, 'utf8').digest('base64')}'`,
    )
  const hashes = {
    scripts: of(/<script>(.*?)<\/script>/gs),
    styles: of(/<style>(.*?)<\/style>/gs),
  }
  hashed = { html, hashes }
  return hashes
}
