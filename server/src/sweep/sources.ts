import { Op } from 'sequelize'
import { hashOfInline, inlinePayer, registrableDomain, type AttributionSources } from '@unvelt/core'
import { AddOnRow } from '../add-on/add-on.model.js'
import type { SiteRow } from '../site/site.model.js'

/** The add-ons that are evidence: those of the site's own register, and snippets that readings found. */
export const evidentAddOns = (siteId: number): Promise<AddOnRow[]> =>
  AddOnRow.findAll({
    where: { siteId, [Op.or]: [{ source: 'connector' }, { slug: { [Op.startsWith]: inlinePayer('') } }] },
  })

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
    inline: addOns.flatMap(({ slug, inlineIds }) => {
      const hash = hashOfInline(slug)
      return [...inlineIds.map((elementId) => ({ elementId, addon: slug })), ...(hash ? [{ hash, addon: slug }] : [])]
    }),
    outsiders: Object.fromEntries(
      addOns.flatMap(({ slug, outsideHosts }) => outsideHosts.map((host) => [registrableDomain(host), slug])),
    ),
    folders: site.folders,
    libraries: addOns.flatMap(({ slug, library }) => (library ? [slug] : [])),
    ...(!site.connector && { byOwnFolders: true }),
  }
}

/** The folders of an add-on's own: two levels deep, so that none is one that add-ons share. */
function folderPrefixes(paths: string[]): string[] {
  return [...new Set(paths.flatMap((path) => /^\/[^/]+\/[^/]+\/(?=.)/.exec(path)?.[0] ?? []))]
}
