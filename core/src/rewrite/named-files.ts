import { addressBook } from '../attribution/address-book.js'
import { canonicalEntry } from '../attribution/canonical.js'
import type { AttributionSources } from '../attribution/sources.js'
import type { ResolvedEffect } from '../rule/resolve.js'

/**
 * The sources, with the files that effects name and that no source knows as anybody's: what an add-on's own code brings in is
 * charged to it by who asked for it, which an address does not tell. The same sources where there is none.
 */
export function withNamedFiles(sources: AttributionSources, effects: readonly ResolvedEffect[]): AttributionSources {
  const book = addressBook(sources)
  const named: Record<string, string> = {}
  for (const { addon, file, feature } of effects) {
    if (file === undefined || feature !== undefined) continue
    const entry = canonicalEntry(file)
    const address = entry.startsWith('/') ? `http://${sources.ownHosts[0]}${entry}` : entry
    if (!URL.canParse(address)) continue
    const url = new URL(address)
    const isKnown =
      book.gluedAt(url) !== undefined ||
      book.byAddress(url) !== null ||
      (!book.isOwn(url.host) && book.outsider(url).addon !== undefined)
    if (!isKnown) named[entry] = addon
  }
  return Object.keys(named).length === 0 ? sources : madeOf(sources, named)
}

const made = new WeakMap<AttributionSources, Map<string, AttributionSources>>()
const MOST_MADE = 50

/** One and the same for the same names: what is worked out of sources is kept as long as they are. */
function madeOf(sources: AttributionSources, named: Readonly<Record<string, string>>): AttributionSources {
  const known = made.get(sources) ?? new Map<string, AttributionSources>()
  made.set(sources, known)
  const key = JSON.stringify(Object.entries(named).sort())
  const found = known.get(key) ?? { ...sources, register: { ...sources.register, ...named } }
  if (known.size < MOST_MADE) known.set(key, found)
  return found
}
