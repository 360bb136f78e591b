import type { CauseLevel, CauseStage, Place, Rule } from '@unvelt/core'
import { AddOnRow } from '../add-on/add-on.model.js'
import { guiltyOf, type CauseParts } from './cause-way.js'
import { versionsToTry } from './versions-to-try.js'

/** By which rules some of a level's suspects are not there on a page. */
export async function leavingOut(
  { search, page }: Pick<CauseParts, 'search' | 'page'>,
  level: CauseLevel,
  absent: readonly string[],
): Promise<Rule[]> {
  const place: Place = { level: 'page', path: page.path }
  const rows = await AddOnRow.findAll({ where: { siteId: search.siteId }, attributes: ['slug', 'canSkip'] })
  const canSkip = new Set(rows.filter((row) => row.canSkip).map(({ slug }) => slug))
  const guilty = guiltyOf(search)[0]!
  return absent.map((id, n): Rule => {
    const rule = { id: `cause-${n + 1}`, place }
    if (level === 'feature') return { ...rule, addon: guilty, feature: id, effect: 'skip' }
    if (level === 'file') return { ...rule, addon: guilty, file: id, effect: 'leave-out' }
    return { ...rule, addon: id, effect: canSkip.has(id) ? 'skip' : 'leave-out' }
  })
}

/** Behind the add-ons: features of the guilty one, then its files, then its other versions; null behind the last that there is. */
export async function partsLevelAfter(
  { tools, search, site }: CauseParts,
  ofAddOns: CauseLevel,
): Promise<CauseLevel | null> {
  const last = search.stages.at(-1)!
  if (last.outcome === null) return last.level
  const guilty = guiltyOf(search)
  // What takes several add-ons together lies in none of their files alone, and in no version of one.
  if (guilty.length !== 1 || last.level === 'version') return null
  const [slug] = guilty as [string]
  if (last.level === 'file') return (await versionsToTry(tools, site, slug)).length > 0 ? 'version' : null
  if (last.level === 'feature') return 'file'
  if (last.level !== ofAddOns) return null
  const addOn = await AddOnRow.findOne({ where: { siteId: search.siteId, slug } })
  const switches = addOn?.features.filter(({ on }) => on).length ?? 0
  return switches > 0 && addOn?.canSkip === true && site.connector ? 'feature' : 'file'
}

export const stageOf = (level: CauseLevel, suspects: CauseStage['suspects']): CauseStage => ({
  level,
  suspects,
  tries: [],
  outcome: null,
  found: [],
})

export const versionStage = (versions: readonly string[]): CauseStage =>
  stageOf(
    'version',
    versions.map((id) => ({ id, reasons: [] })),
  )
