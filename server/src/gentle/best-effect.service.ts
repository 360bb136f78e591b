import { randomUUID } from 'node:crypto'
import { Inject, Injectable } from '@nestjs/common'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import { everyEffect, type Place, type Rule } from '@unvelt/core'
import type { BestEffectRequest, GentleSearch } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { tellRehearsal } from '../events/tell.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { RehearsalService } from '../rehearsal/rehearsal.service.js'
import { touchedPages } from '../rule/deployment/deployment-plan.js'
import { DraftService } from '../rule/draft.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { mergeRules } from '../rule/merge-rules.js'
import { effectsOf } from '../site/site-effects.js'
import type { SiteRow } from '../site/site.model.js'
import { filesToTry } from './files-to-try.js'
import { GentleSearchRow } from './gentle.model.js'
import { gentleView } from './gentle-view.js'
import { endGentle } from './run-gentle.js'

/** Looks for what spares the most of an add-on on a page and breaks nothing there, though nobody drafted anything about it. */
@Injectable()
export class BestEffectService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly rehearsals: RehearsalService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
  ) {}

  async begin(site: SiteRow, { addon, pageId }: BestEffectRequest): Promise<GentleSearch> {
    const { page, name, rule, effects } = await this.wholly(site, addon, pageId)
    if (await GentleSearchRow.findOne({ where: { siteId: site.id, addon, state: 'running' } }))
      throw new ProblemError(409, 'It is being looked for already.')
    const rehearsal = await this.rehearsals.startWithout(site, pageId, rule, `What works of ${name} on ${page.path}`)
    const [view] = await RehearsalPageRow.findAll({
      where: { rehearsalId: rehearsal.id },
      order: ['position', 'lensId'],
    })
    try {
      const row = await GentleSearchRow.create({
        siteId: site.id,
        rehearsalId: rehearsal.id,
        pageId,
        lensId: view!.lensId,
        draftId: rule.id,
        addon,
        drafts: [rule],
        effects,
        files: await filesToTry(this.sequelize, site.id, pageId, addon),
      })
      await tellRehearsal(this.sequelize, { siteId: site.id, rehearsalId: rehearsal.id })
      return await gentleView(await row.reload())
    } catch (error) {
      await this.rehearsals.stop(rehearsal.id)
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, 'Another one is being looked for.')
      throw error
    }
  }

  /** The newest for an add-on on a page, as a list of one or none. */
  async list(siteId: number, { addon, pageId }: BestEffectRequest): Promise<GentleSearch[]> {
    const row = await GentleSearchRow.findOne({ where: { siteId, addon, pageId }, order: [['id', 'desc']] })
    return row ? [await gentleView(row)] : []
  }

  async stop(row: GentleSearchRow): Promise<void> {
    await endGentle({ sequelize: this.sequelize }, row.id, 'stopped', null)
    const rehearsal = await RehearsalRow.findByPk(row.rehearsalId)
    if (rehearsal?.state === 'running') await this.rehearsals.stop(rehearsal.id)
  }

  /** The rule that takes all of an add-on from a page, and what can be tried instead. */
  private async wholly(site: SiteRow, addon: string, pageId: number) {
    const [page, row] = await Promise.all([
      PageRow.findOne({ where: { siteId: site.id, id: pageId, gone: false } }),
      AddOnRow.findOne({ where: { siteId: site.id, slug: addon } }),
    ])
    if (!page) throw notFound('page')
    const effects = everyEffect(effectsOf(site).filter((effect) => effect !== 'skip' || row?.canSkip === true))
    const [first, ...others] = effects
    if (!first) throw new ProblemError(409, 'There is no effect that this site can carry out.')
    const place: Place = { level: 'page', path: page.path }
    const [checked] = await this.drafts.check(site, [{ addon, effect: first.effect, place }])
    const rule: Rule = { ...checked!, id: randomUUID() }
    const { rules } = await this.live.current(site.id)
    if (touchedPages([{ ...rulePage(page), id: page.id }], rules, mergeRules(rules, [rule])).length === 0)
      throw new ProblemError(409, 'By the live rules nothing of it loads on this page as it is.')
    return { page, name: row?.name ?? addon, rule, effects: [first, ...others] }
  }
}
