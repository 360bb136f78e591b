import type { RewritePlan } from './rewrite-plan.js'

/** The beginning of an address that names a host (URL standard, section 4.4: blanks before it do not count). */
const WITH_HOST = /^[\0-\x20]*((?:https?:)?[\\/]{2}[^\\/?#]*)/i

/**
 * An address of a site as one of the gate in front of it; null for one that leads elsewhere, or that is relative, and so stays on
 * the host it was found on. Only the beginning changes.
 * @param site Its origin; http and https are taken for one where both stand at their common ports.
 * @param gate The gate's origin.
 */
export function insideGate(address: string, site: string, gate: string): string | null {
  const found = WITH_HOST.exec(address)
  if (!found) return null
  const own = new URL(site)
  const start = found[1]!.replace(/^[\\/]/, `${own.protocol}/`).replace(/\\/g, '/')
  if (!URL.canParse(start)) return null
  const named = new URL(start)
  const isSame = named.host === own.host || (named.hostname === own.hostname && named.port === '' && own.port === '')
  if (!isSame || !/^https?:$/.test(named.protocol)) return null
  const rest = address.slice(found[0].length)
  return gate + (/^[\\/]/.test(rest) ? rest : `/${rest}`)
}

/** A plan by which, besides, all that the page names of its own site is asked of the gate, and its links stay inside. */
export function throughGate(plan: RewritePlan, site: string, gate: string): RewritePlan {
  const inside = (address: string) => insideGate(address, site, gate)
  const moved = (address: string) => {
    const to = inside(address)
    return to === null ? null : ({ do: 'move', to: ascii(to) } as const)
  }
  return {
    ...plan,
    forFile: (address, base) => plan.forFile(address, base) ?? moved(address),
    forHint: (address, base) => plan.forHint(address, base) ?? moved(address),
    links: inside,
    readsStyles: true,
    idle: false,
  }
}

/** What goes into a page of any encoding has to be ASCII. */
const ascii = (address: string) =>
  address.replace(/[^\0-\x7f]+/gu, (text) => encodeURIComponent(text.replace(/\p{Surrogate}/gu, '\ufffd')))

/** Does nothing to a page. */
export const idlePlan = (pageUrl: string): RewritePlan => ({
  pageUrl,
  forFile: () => null,
  forInline: () => null,
  forHint: () => null,
  touchesInline: false,
  readsInline: false,
  readsStyles: false,
  first: '',
  idle: true,
})
