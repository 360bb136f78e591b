import type { AddOn } from '../cms/add-on.js'
import { JOBS } from '../add-ons/jobs.js'
import type { Fernhollow } from '../cms/fernhollow.js'
import { useEvidence } from './use-evidence.js'

/** Every add-on the CMS has installed, as the protocol names it. */
export async function inventory(site: Fernhollow) {
  const tables = await site.leftovers.tables()
  const uses = new Map<string, number>()
  for (const { addon, feature } of useEvidence(site.book.all(), site.installed.addOns))
    for (const key of [addon, `${addon} ${feature}`]) uses.set(key, (uses.get(key) ?? 0) + 1)
  return site.installed.addOns.map((addOn) => {
    const {
      manifest,
      active = true,
      files,
      outsideHosts = [],
      inlineIds = [],
      blocks,
      tasks = [],
      featureOfBlock,
    } = addOn
    const { slug, features, settings = [] } = manifest
    return {
      ...manifest,
      library: manifest.library ?? false,
      active,
      since: site.installed.installedAt(slug)?.toISOString() ?? null,
      versions: site.installed.versionsOf(slug),
      // Only of features that blocks belong to can the content tell how often they are used.
      features: features.map((feature) => ({
        ...feature,
        ...(featureOfBlock && { uses: uses.get(`${slug} ${feature.slug}`) ?? 0 }),
      })),
      settings,
      files: files.map((file) => ({ path: file.path, type: file.type, bytes: file.body.length })),
      blocks: Object.keys(blocks ?? {}),
      tables: tables.get(slug) ?? [],
      tasks: tasks.map(({ name, everySeconds }) => ({ name, everySeconds })),
      outsideHosts,
      jobs: JOBS[slug] ?? [],
      inlineIds,
    }
  })
}

/** File → add-on. Pasted code is in nobody's register, so its files are not here. `copies`: path of a local copy → add-on. */
export function assetRegister(addOns: readonly AddOn[], copies: Record<string, string> = {}) {
  const files: Record<string, string> = { '/generated/hollow.css': 'hollow', ...copies }
  for (const { manifest, files: own } of addOns)
    if (manifest.kind !== 'snippet') for (const file of own) files[file.path] = manifest.slug
  return { files, folders: [{ prefix: '/media/', payer: 'content' }] }
}
