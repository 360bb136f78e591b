import type { AddOn } from '../cms/add-on.js'

/** Every add-on the CMS has installed, as the protocol names it. */
export function inventory(addOns: readonly AddOn[]) {
  return addOns.map(({ manifest, active = true, files, outsideHosts = [], inlineIds = [], blocks }) => ({
    ...manifest,
    library: manifest.library ?? false,
    active,
    files: files.map((file) => ({ path: file.path, type: file.type, bytes: file.body.length })),
    blocks: Object.keys(blocks ?? {}),
    outsideHosts,
    inlineIds,
  }))
}

/** File → add-on. Pasted code is in nobody's register, so its files are not here. */
export function assetRegister(addOns: readonly AddOn[]) {
  const files: Record<string, string> = {}
  for (const { manifest, files: own } of addOns)
    if (manifest.kind !== 'snippet') for (const file of own) files[file.path] = manifest.slug
  return { files, folders: [{ prefix: '/media/', payer: 'content' }] }
}
