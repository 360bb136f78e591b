import { canonicalAddress, canonicalEntry, canonicalHost, canonicalPath } from './canonical.js'
import type { Charge } from './evidence.js'
import { compilePattern, type Pattern } from './pattern.js'
import { registrableDomain } from './registrable-domain.js'
import type { AttributionSources } from './sources.js'

const books = new WeakMap<AttributionSources, AddressBook>()

/** The book of some sources, which must not change afterwards: they are gone through once. */
export function addressBook(sources: AttributionSources): AddressBook {
  const book = books.get(sources) ?? new AddressBook(sources)
  books.set(sources, book)
  return book
}

/** Tells by an address alone whose a file is: evidence 1 to 3, and 6 for outsiders of the inventory. */
export class AddressBook {
  private readonly patterns: { pattern: Pattern; source: string; addon: string }[]
  private readonly register: Map<string, { addon: string; key: string }>
  /** Prefixes that are whole folders, found by walking up a path; the rest are tried one by one, longest first. */
  private readonly folders = new Map<string, { prefix: string; addon: string }>()
  private longestFolder = 0
  private readonly otherPrefixes: { start: string; prefix: string; addon: string }[] = []
  private readonly glued: ReadonlyMap<string, string>
  private readonly ownHosts: ReadonlySet<string>

  constructor(private readonly sources: AttributionSources) {
    this.patterns = sources.patterns.map(({ pattern, addon }) => ({
      pattern: compilePattern(pattern),
      source: pattern,
      addon,
    }))
    this.register = new Map(
      Object.entries(sources.register).map(([key, addon]) => [canonicalEntry(key), { addon, key }] as const),
    )
    for (const { prefix, addon } of sources.prefixes) {
      const start = canonicalEntry(prefix)
      if (start.startsWith('/') && start.endsWith('/')) {
        if (!this.folders.has(start)) this.folders.set(start, { prefix, addon })
        this.longestFolder = Math.max(this.longestFolder, start.length)
      } else this.otherPrefixes.push({ start, prefix, addon })
    }
    this.otherPrefixes.sort((a, b) => b.start.length - a.start.length)
    this.glued = new Map(Object.keys(sources.glued ?? {}).map((path) => [canonicalEntry(path), path]))
    this.ownHosts = new Set(sources.ownHosts.map(canonicalHost))
  }

  isOwn(host: string): boolean {
    return this.ownHosts.has(host) || this.ownHosts.has(canonicalHost(host))
  }

  /** The path by which the sources name a file that is glued together from others' files; undefined for any other. */
  gluedAt(url: URL): string | undefined {
    return this.glued.size > 0 && this.isOwn(url.host) ? this.glued.get(canonicalPath(url.pathname)) : undefined
  }

  /** Register, folder prefix, the maintainer's own pattern. */
  byAddress(url: URL): Charge | null {
    const own = this.isOwn(url.host)
    const address = canonicalAddress(url)
    const path = own ? canonicalPath(url.pathname) : ''
    if (this.register.size > 0)
      for (const key of own ? [path + url.search, path, address] : [address]) {
        const entry = this.register.get(key)
        if (entry) return { payer: entry.addon, evidence: 'register', because: key }
      }
    const prefix = this.byPrefix(address, own ? path : null)
    if (prefix) return { payer: prefix.addon, evidence: 'prefix', because: prefix.prefix }
    const match = this.patterns.find((p) => p.pattern.test(url))
    return match ? { payer: match.addon, evidence: 'pattern', because: match.source } : null
  }

  /** The longest prefix that fits, of the path on an own host or of the whole address. */
  private byPrefix(address: string, path: string | null): { prefix: string; addon: string } | undefined {
    const other = this.otherPrefixes.find((p) =>
      p.start.startsWith('/') ? path?.startsWith(p.start) : address.startsWith(p.start),
    )
    if (path === null || this.folders.size === 0) return other
    for (
      let at = path.lastIndexOf('/', this.longestFolder);
      at >= 0;
      at = at === 0 ? -1 : path.lastIndexOf('/', at - 1)
    ) {
      if (other && other.start.length > at + 1) return other
      const folder = this.folders.get(path.slice(0, at + 1))
      if (folder) return folder
    }
    return other
  }

  /** The add-on of the inventory that an outsider's registrable domain belongs to, or undefined; and the domain. */
  outsider(url: URL): { domain: string; addon: string | undefined } {
    const domain = registrableDomain(url.host)
    const { outsiders } = this.sources
    // Hosts come from the site: `constructor` must not find what every object has.
    return { domain, addon: Object.hasOwn(outsiders, domain) ? outsiders[domain] : undefined }
  }
}
