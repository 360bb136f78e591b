import type { LookedThroughLens } from '@unvelt/contract'
import { DEFAULT_LENS } from '../lens/lens-settings.js'
import { LensRow, visitOf } from '../lens/lens.model.js'

type Lens = Pick<LensRow, 'name' | 'settings'>

/** Each is a load of the page. */
const MOST_LENSES = 4

/** A site's lenses of visitors who are signed out, one for each view that they give: how fast it is changes no size. */
export async function lensesToLookThrough(siteId: number): Promise<Lens[]> {
  const all = await LensRow.findAll({ where: { siteId }, order: ['id'] })
  const byView = new Map<string, Lens>()
  for (const lens of all) {
    const { device, visitor } = lens.settings
    const key = [device.viewportWidth, device.viewportHeight, device.phone].join(' ')
    if (visitor.kind === 'signed-out' && !byView.has(key)) byView.set(key, lens)
  }
  return byView.size > 0 ? [...byView.values()].slice(0, MOST_LENSES) : [DEFAULT_LENS]
}

/** What is told of a lens that was looked through. */
export const lensView = (lens: Lens): LookedThroughLens => ({
  name: lens.name,
  device: visitOf(lens).device,
  ratio: lens.settings.device.phone ? 2 : 1,
  viewWidth: lens.settings.device.viewportWidth,
})
