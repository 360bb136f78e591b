import { withFoundPayers, type Rule } from '@unvelt/core'
import { pageFinder, PageRow } from '../page/page.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import { mergeRules } from '../rule/merge-rules.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { attributionSources, evidentAddOns } from '../sweep/sources.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import type { Subject } from './read-rehearsed.js'
import type { RehearsalRow } from './rehearsal.model.js'

/** What the readings of all pages have in common. */
export type Common = Pick<
  Subject,
  'site' | 'key' | 'sources' | 'rules' | 'liveVersion' | 'isLive' | 'hasTrials' | 'pageAt'
>

/** What of the drafts is looked for is tried by itself, whatever the rehearsal was of. */
export const mechanismFor = ({ connector }: SiteRow): 'site' | 'rewriter' =>
  connector?.measuring?.drafts ? 'site' : 'rewriter'

/** @param tried Those of the drafts that are to be tried by themselves; without, all that the rehearsal is of, as it is of them. */
export async function commonOf(
  tools: WorkerTools,
  row: Pick<RehearsalRow, 'siteId' | 'liveRules' | 'liveVersion' | 'drafts' | 'mechanism'>,
  tried?: readonly Rule[],
): Promise<Common> {
  const site = (await SiteRow.findByPk(row.siteId))!
  const rules = mergeRules(row.liveRules, tried ?? row.drafts)
  const [addOns, patterns, pages] = await Promise.all([
    evidentAddOns(site.id),
    patternsOf(site.id),
    PageRow.findAll({ where: { siteId: site.id }, attributes: ['path', 'kind', 'area'] }),
  ])
  return {
    site,
    key: site.connectorKey === null ? null : open(site.connectorKey, tools.secret),
    sources: withFoundPayers(
      attributionSources(site, addOns, patterns),
      rules.map(({ addon }) => addon),
    ),
    rules,
    liveVersion: row.liveVersion,
    isLive: row.mechanism === 'live' && tried === undefined,
    hasTrials: site.connector?.measuring?.trials === true,
    pageAt: pageFinder(pages),
  }
}
