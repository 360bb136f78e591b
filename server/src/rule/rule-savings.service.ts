import { Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { conditionHolds, MEASURES, PLAIN_VISIT, type Rule } from '@unvelt/core'
import type { RuleSaving } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { subject } from './merge-rules.js'
import { PredictionService, type ReadUnder } from './prediction.service.js'
import { RuleVersionRow } from './rule-version.model.js'

/** So many sweeps are gone back through for one that was read without a rule. */
const MOST_BACK = 40

/**
 * What each rule spares by the newest sweep that was read without it: a draft by the one that is shown, a live rule by the last
 * before it was live, or by one that was read without any rules.
 */
@Injectable()
export class RuleSavingsService {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly prediction: PredictionService,
  ) {}

  async savings(siteId: number, ids: readonly string[]): Promise<RuleSaving[]> {
    const [live, drafts, read] = await Promise.all([
      this.live.current(siteId),
      this.drafts.rules(siteId),
      this.readUnder(siteId),
    ])
    const asked = [...live.rules, ...drafts.filter(({ removed }) => !removed)].filter(({ id }) => ids.includes(id))
    const told: RuleSaving[] = []
    for (const rule of asked) told.push(await this.savingOf(rule, read))
    return told
  }

  private async savingOf(rule: Rule, read: readonly ReadUnder[]): Promise<RuleSaving> {
    const nothing = { id: rule.id, sweepId: null, readAt: null, pages: 0, saved: {}, postponed: {} }
    if (rule.effect === 'keep') return { ...nothing, because: 'keeps' }
    // Sweeps are read at a desk, by people who have not signed in.
    if (!conditionHolds(rule.condition, PLAIN_VISIT)) return { ...nothing, because: 'other-visits' }
    const without = read.find(({ live }) => !live.some((other) => isSame(other, rule)))
    if (!without) return { ...nothing, because: 'always-live' }
    const { saved, postponed, pages, pagesUnread } = await this.prediction.over(without, [rule])
    const seen = pages - pagesUnread
    if (seen === 0) return { ...nothing, because: 'not-read' }
    const mean = (of: Record<string, number>) =>
      Object.fromEntries(MEASURES.map((measure) => [measure, (of[measure] ?? 0) / seen]))
    return {
      id: rule.id,
      because: null,
      sweepId: without.sweep!.id,
      readAt: without.sweep!.startedAt.toISOString(),
      pages: seen,
      saved: mean(saved),
      postponed: mean(postponed),
    }
  }

  /** The site's surveys through the lens that is shown, the newest first, with the rules under which each was read. */
  private async readUnder(siteId: number): Promise<ReadUnder[]> {
    const shown = await this.sweeps.toShow(siteId)
    if (!shown) return []
    const [surveys, versions, all] = await Promise.all([
      SweepRow.findAll({
        where: { siteId, lensId: shown.lensId, purpose: 'survey', status: 'done' },
        order: [['startedAt', 'desc']],
        limit: MOST_BACK,
      }),
      RuleVersionRow.findAll({ where: { siteId }, order: [['putAt', 'desc']] }),
      PageRow.findAll({ where: { siteId }, order: ['position'] }),
    ])
    const others = surveys.filter(({ id }) => id !== shown.id)
    return [shown, ...others].map((sweep) => ({ siteId, sweep, all, live: rulesIn(sweep, versions) }))
  }
}

/** What held while a sweep was read. */
export function rulesIn(
  { variants, startedAt }: Pick<SweepRow, 'variants' | 'startedAt'>,
  versions: readonly Pick<RuleVersionRow, 'version' | 'rules' | 'putAt'>[],
): Rule[] {
  const under = variants[0]?.rules ?? 'live'
  if (under !== 'live') return versions.find(({ version }) => version === under)?.rules ?? []
  const put = versions.filter(({ putAt }) => putAt <= startedAt)
  return put.sort((a, b) => b.putAt.getTime() - a.putAt.getTime() || b.version - a.version)[0]?.rules ?? []
}

const isSame = (a: Rule, b: Rule): boolean =>
  subject(a) === subject(b) &&
  a.effect === b.effect &&
  a.until === b.until &&
  a.order === b.order &&
  a.value === b.value
