import { hashOfInline, isOutsider, isOwnFolder, outsiderPayer, ownFolderPayer } from './evidence.js'
import type { AttributionSources } from './sources.js'

/**
 * The sources with what was only found by its folder, its domain or its code known by that name, so that the rewriter takes just
 * what attribution charges to it.
 * @param payers Slugs that rules name; those of add-ons that the sources know already change nothing.
 */
export function withFoundPayers(sources: AttributionSources, payers: Iterable<string>): AttributionSources {
  const found = [...new Set(payers)]
  const folders = found.filter(isOwnFolder)
  const domains = found.filter(isOutsider)
  const codes = found.flatMap((addon) => {
    const hash = hashOfInline(addon)
    return hash !== null && !sources.inline.some((known) => known.hash === hash) ? [{ hash, addon }] : []
  })
  if (folders.length + domains.length + codes.length === 0) return sources
  return {
    ...sources,
    prefixes: [
      ...sources.prefixes,
      ...folders.map((addon) => ({ prefix: addon.slice(ownFolderPayer('').length), addon })),
    ],
    outsiders: {
      ...Object.fromEntries(domains.map((addon) => [addon.slice(outsiderPayer('').length), addon])),
      // What an add-on is known to bring in is the add-on's.
      ...sources.outsiders,
    },
    inline: [...sources.inline, ...codes],
  }
}
