import type { AddOn } from '../cms/add-on.js'
import { BLOCK, readBlock } from '../cms/make-page.js'
import type { SitePage } from '../content/site-page.js'

export interface Use {
  path: string
  addon: string
  feature?: string
  /** Through what: the block as it is written in the content. */
  through: string
}

/** Which page's content uses which add-on or feature: read off the blocks in the content, never guessed. */
export function useEvidence(pages: readonly SitePage[], addOns: readonly AddOn[]): Use[] {
  return pages.flatMap(({ path, body }) =>
    [...body.matchAll(BLOCK)].flatMap((match) => {
      const { name, attributes } = readBlock(match)
      const addOn = addOns.find((a) => a.blocks && Object.hasOwn(a.blocks, name))
      if (!addOn) return []
      const feature = addOn.featureOfBlock?.(name, attributes)
      return [{ path, addon: addOn.manifest.slug, ...(feature !== undefined && { feature }), through: match[0] }]
    }),
  )
}
