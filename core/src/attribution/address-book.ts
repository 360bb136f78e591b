import type { Charge } from './evidence.js'
import { compilePattern, type Pattern } from './pattern.js'
import { registrableDomain } from './registrable-domain.js'
import type { AttributionSources } from './sources.js'

/** Tells by an address alone whose a file is: evidence 1 to 3, and 6 for outsiders of the inventory. */
export class AddressBook {
  private readonly patterns: { pattern: Pattern; source: string; addon: string }[]
  /** Prefixes that are whole folders, found by walking up a path; the rest are tried one by one, longest first. */
  private readonly folders = new Map<string, string>()
  private readonly otherPrefixes: { prefix: string; addon: string }[]
  private readonly ownHosts: ReadonlySet<string>

  constructor(private readonly sources: AttributionSources) {
    this.patterns = sources.patterns.map(({ pattern, addon }) => ({
      pattern: compilePattern(pattern),
      source: pattern,
      addon,
    }))
    const isFolder = ({ prefix }: { prefix: string }) => prefix.startsWith('/') && prefix.endsWith('/')
    for (const entry of sources.prefixes.filter(isFolder))
      if (!this.folders.has(entry.prefix)) this.folders.set(entry.prefix, entry.addon)
    this.otherPrefixes = sources.prefixes
      .filter((entry) => !isFolder(entry))
      .sort((a, b) => b.prefix.length - a.prefix.length)
    this.ownHosts = new Set(sources.ownHosts)
  }

  isOwn(host: string): boolean {
    return this.ownHosts.has(host)
  }

  /** Register, folder prefix, the maintainer's own pattern. */
  byAddress(url: URL): Charge | null {
    const own = this.isOwn(url.host)
    for (const key of own ? [url.pathname + url.search, url.pathname, url.href] : [url.href]) {
      const addon = own || key === url.href ? ownEntry(this.sources.register, key) : undefined
      if (addon !== undefined) return { payer: addon, evidence: 'register', because: key }
    }
    const prefix = this.byPrefix(url, own)
    if (prefix) return { payer: prefix.addon, evidence: 'prefix', because: prefix.prefix }
    const match = this.patterns.find((p) => p.pattern.test(url))
    return match ? { payer: match.addon, evidence: 'pattern', because: match.source } : null
  }

  /** The longest prefix that fits, of the path on an own host or of the whole address. */
  private byPrefix(url: URL, own: boolean): { prefix: string; addon: string } | undefined {
    const other = this.otherPrefixes.find(
      (p) => url.href.startsWith(p.prefix) || (own && url.pathname.startsWith(p.prefix)),
    )
    if (!own || this.folders.size === 0) return other
    const { pathname } = url
    for (let at = pathname.lastIndexOf('/'); at >= 0; at = at === 0 ? -1 : pathname.lastIndexOf('/', at - 1)) {
      const prefix = pathname.slice(0, at + 1)
      if (other && other.prefix.length > prefix.length) return other
      const addon = this.folders.get(prefix)
      if (addon !== undefined) return { prefix, addon }
    }
    return other
  }

  /** The add-on of the inventory that an outsider's registrable domain belongs to, or undefined; and the domain. */
  outsider(url: URL): { domain: string; addon: string | undefined } {
    const domain = registrableDomain(url.host)
    return { domain, addon: ownEntry(this.sources.outsiders, domain) }
  }
}

/** Addresses and hosts come from the site: `constructor` must not find what every object has. */
const ownEntry = (record: Record<string, string>, key: string) => (Object.hasOwn(record, key) ? record[key] : undefined)
