import { Inject, Injectable } from '@nestjs/common'
import { Op, Sequelize } from 'sequelize'
import { placeCovers, type Rule } from '@unvelt/core'
import type { NotCarriedOut, Verification, VerifiedRule } from '@unvelt/contract'
import { LensRow, visitOf } from '../lens/lens.model.js'
import { asKind, OnDemandRow, type OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { lensesFor, pagesToRehearse } from '../rehearsal/rehearsal-plan.js'
import { describeChange } from '../rule/deployment/describe-change.js'
import { sameRules } from '../rule/deployment/deployment-plan.js'
import { DraftRow } from '../rule/draft.model.js'
import { DraftService } from '../rule/draft.service.js'
import { keepVersion } from '../rule/keep-version.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { mergeRules, type DraftRule } from '../rule/merge-rules.js'
import { ruleViews } from '../rule/rule-view.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'

const STOPPED = 'It was stopped before this page was looked at.'
const BUSY = 'These pages are being looked at already.'

/** Whether rules hold at a site without a connector, where somebody else carries them out; and that they count as live from then on. */
@Injectable()
export class VerifyService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly onDemand: OnDemandService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow): Promise<Verification> {
    const rows = await this.rows(site.id)
    const pages = new Map(
      (await PageRow.findAll({ where: { id: rows.map(({ pageId }) => pageId!) } })).map((page) => [page.id, page]),
    )
    const path = (row: OnDemand<'verify'>) => pages.get(row.pageId!)?.path ?? ''
    const done = rows.filter(({ state }) => state === 'done')
    const asked = rows[0]?.wish.rules ?? []
    const rules = await this.verified(site.id, asked, done, path)
    const failed = done.flatMap((row) =>
      row.failure === null ? [] : [{ pageId: row.pageId!, path: path(row), why: row.failure }],
    )
    const stale = rows.length === 0 ? null : await this.whyStale(site.id, asked)
    return {
      pages: rows.length,
      pagesDone: done.length,
      failed,
      rules,
      stale,
      holds:
        rows.length > 0 &&
        done.length === rows.length &&
        failed.length === 0 &&
        stale === null &&
        rules.every(({ left }) => left.length === 0),
      takenAt: done.length === 0 ? null : new Date(Math.max(...done.map(({ takenAt }) => +takenAt))).toISOString(),
    }
  }

  /** Looks at pages of every kind that the rules and drafts say something on. */
  async start(site: SiteRow): Promise<Verification> {
    if (site.connector) throw new ProblemError(409, 'The site says itself by which rules its pages are made.')
    await this.sweeps.refuseWhileRunning(site.id)
    const asked = await this.asked(site.id)
    if (asked.length === 0) throw new ProblemError(409, 'There is no rule and no draft that could hold.')
    const standing = asked.filter(({ removed }) => !removed)
    const pages = (await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })).map(
      (page) => ({
        ...rulePage(page),
        id: page.id,
        signedIn: page.signedIn,
        views: page.importedViews ?? page.views,
      }),
    )
    const covered = pages.filter((page) => asked.some(({ place }) => placeCovers(place, page)))
    const lenses = (await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })).map((row) => ({
      id: row.id,
      visit: visitOf(row),
      isCold: row.settings.cache === 'cold',
    }))
    const chosen = pagesToRehearse(covered, covered, asked, new Set(), site.id).flatMap((page) => {
      const lensIds = lensesFor(page, [], [...standing, ...asked], lenses).map(({ id }) => id)
      return lensIds.length === 0 ? [] : [{ page, lensIds }]
    })
    if (chosen.length === 0) throw new ProblemError(409, 'The rules touch no page that a lens can see.')
    if ((await OnDemandRow.count({ where: { siteId: site.id, kind: 'verify', state: 'waiting' } })) > 0)
      throw new ProblemError(409, BUSY)
    await OnDemandRow.destroy({ where: { siteId: site.id, kind: 'verify' } })
    for (const [lensIds, pageIds] of byLenses(chosen))
      await this.onDemand.startMany('verify', { siteId: site.id, pageIds }, { rules: asked, lensIds }, BUSY)
    return this.view(site)
  }

  /** What was looked at stays; of the other pages nobody can say that anything holds there. */
  async stop(site: SiteRow): Promise<Verification> {
    await OnDemandRow.update(
      { state: 'done', failure: STOPPED, takenAt: new Date() },
      { where: { siteId: site.id, kind: 'verify', state: 'waiting' } },
    )
    return this.view(site)
  }

  /** What was found to hold is live from now on: it is a version with its line in the history, and drafts are none any more. */
  async adopt(site: SiteRow): Promise<Verification> {
    const { holds } = await this.view(site)
    if (!holds) throw new ProblemError(409, 'It was not found yet that all of it holds.')
    const drafts = await this.drafts.rules(site.id)
    if (drafts.length === 0) throw new ProblemError(409, 'There is no draft; what is live has been found to hold.')
    const { version, rules } = await this.live.current(site.id)
    const what = await describeChange(site.id, drafts)
    await this.sequelize.transaction(async (transaction) => {
      const next = { version: version + 1, rules: mergeRules(rules, drafts), what }
      await keepVersion({ siteId: site.id }, next, transaction)
      await DraftRow.destroy({ where: { siteId: site.id, id: { [Op.in]: drafts.map(({ id }) => id) } }, transaction })
    })
    return this.view(site)
  }

  private async rows(siteId: number): Promise<OnDemand<'verify'>[]> {
    const rows = await OnDemandRow.findAll({ where: { siteId, kind: 'verify' }, order: ['id'] })
    return rows.flatMap((row) => asKind(row, 'verify') ?? [])
  }

  /** What is to hold: the live rules under the drafts, and those that are to go, marked as such. */
  private async asked(siteId: number): Promise<DraftRule[]> {
    const [{ rules }, drafts] = await Promise.all([this.live.current(siteId), this.drafts.rules(siteId)])
    return [...mergeRules(rules, drafts), ...drafts.filter(({ removed }) => removed)]
  }

  private async whyStale(siteId: number, asked: readonly Rule[]): Promise<string | null> {
    const now = await this.asked(siteId)
    // Once they are live the drafts that were to go are none any more.
    const standing = (rules: readonly DraftRule[]) => rules.filter(({ removed }) => !removed)
    return sameRules(standing(now), standing(asked)) ? null : 'the rules have changed since.'
  }

  private async verified(
    siteId: number,
    asked: readonly DraftRule[],
    done: readonly OnDemand<'verify'>[],
    path: (row: OnDemand<'verify'>) => string,
  ): Promise<VerifiedRule[]> {
    const lenses = new Map(
      (await LensRow.findAll({ where: { siteId }, paranoid: false })).map(({ id, name }) => [id, name]),
    )
    const drafted = new Set((await this.drafts.rules(siteId)).map(({ id }) => id))
    const views = await ruleViews(siteId, asked)
    return asked.map((rule, n) => {
      const seen = done.flatMap((row) =>
        row.taken.flatMap(({ lensId, effects }) =>
          effects.filter(({ rules }) => rules.includes(rule.id)).map((effect) => ({ row, lensId, effect })),
        ),
      )
      return {
        rule: views[n]!,
        isDraft: drafted.has(rule.id),
        views: seen.filter(({ effect }) => effect.outcome !== 'unknown').length,
        unknown: seen.filter(({ effect }) => effect.outcome === 'unknown').length,
        left: seen
          .filter(({ effect }) => effect.outcome === 'left')
          .map(({ row, lensId, effect: { inPage, arrived } }): NotCarriedOut => {
            return { pageId: row.pageId!, path: path(row), lens: lenses.get(lensId) ?? '', inPage, arrived }
          }),
      }
    })
  }
}

/** Pages that are looked at through the same lenses are asked for together. */
function byLenses(chosen: readonly { page: { id: number }; lensIds: number[] }[]): [number[], number[]][] {
  const found = new Map<string, [number[], number[]]>()
  for (const { page, lensIds } of chosen) {
    const key = lensIds.join()
    const of = found.get(key) ?? [lensIds, []]
    of[1].push(page.id)
    found.set(key, of)
  }
  return [...found.values()]
}
