import { registrableDomain, type AttributionSources } from '@unvelt/core'
import type { AddOnRow } from '../add-on/add-on.model.js'
import type { SiteRow } from '../site/site.model.js'

/** What is known of a site now, as evidence for who pays. */
export function attributionSources(
  site: SiteRow,
  addOns: AddOnRow[],
  patterns: AttributionSources['patterns'] = [],
): AttributionSources {
  return {
    ownHosts: site.ownHosts,
    register: site.assetRegister,
    prefixes: addOns.flatMap(({ slug, files }) =>
      folderPrefixes(files.map((f) => f.path)).map((prefix) => ({ prefix, addon: slug })),
    ),
    patterns,
    inline: addOns.flatMap(({ slug, inlineIds }) => inlineIds.map((elementId) => ({ elementId, addon: slug }))),
    outsiders: Object.fromEntries(
      addOns.flatMap(({ slug, outsideHosts }) => outsideHosts.map((host) => [registrableDomain(host), slug])),
    ),
    folders: site.folders,
    ...(!site.connector && { byOwnFolders: true }),
  }
}

/** The folders of an add-on's own: two levels deep, so that none is one that add-ons share. */
function folderPrefixes(paths: string[]): string[] {
  return [...new Set(paths.flatMap((path) => /^\/[^/]+\/[^/]+\/(?=.)/.exec(path)?.[0] ?? []))]
}
