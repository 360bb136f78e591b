import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Op, QueryTypes, Sequelize, UniqueConstraintError } from 'sequelize'
import { findsNoMore, type Rule } from '@unvelt/core'
import type { AcceptRequest, Rehearsal, RehearsalRequest, RehearsalSheet, UnacceptRequest } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { tellRehearsal } from '../events/tell.js'
import { CulpritSearchRow } from '../culprit/culprit.model.js'
import { searchView } from '../culprit/culprit-view.js'
import { LensRow, visitOf } from '../lens/lens.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { REHEARSE, within, type RehearseJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { DeploymentRow } from '../rule/deployment/deployment.model.js'
import { changedAddOns, sameRules, touchedPages } from '../rule/deployment/deployment-plan.js'
import { describeChange } from '../rule/deployment/describe-change.js'
import { pagesInUse } from '../rule/deployment/pages-in-use.js'
import { DraftService } from '../rule/draft.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { mergeRules } from '../rule/merge-rules.js'
import { PredictionService } from '../rule/prediction.service.js'
import { ruleViews } from '../rule/rule-view.js'
import { SiteRow } from '../site/site.model.js'
import { mechanismFor } from './common-subject.js'
import { isAsItShouldBe } from './live-round.js'
import {
  forgetOldPictures,
  keptPictures,
  pictureSizes,
  stepPicture,
  stepsPictured,
  type RehearsedPlace,
} from './picture-store.js'
import { draftsKey, lensesFor, pagesToRehearse } from './rehearsal-plan.js'
import { AcceptedRow, OF_DRAFTS, RehearsalPageRow, RehearsalRow } from './rehearsal.model.js'
import { acceptanceOf, pageView } from './rehearsal-view.js'

const MOST_LISTED = 30

/** Begins rehearsals, says how far they are and what they found. Carrying them is a job (run-rehearsal.ts). */
@Injectable()
export class RehearsalService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly prediction: PredictionService,
  ) {}

  /** @param round Of a rehearsal that throws out what breaks a guard: which, and after which one. */
  async start(
    site: SiteRow,
    { best, ...wish }: RehearsalRequest,
    round: RehearsalRow['best'] = best ? { round: 1, after: null } : null,
  ): Promise<Rehearsal> {
    const drafts = await this.drafts.rules(site.id)
    if (drafts.length === 0) throw new ProblemError(409, 'There is no draft to rehearse.')
    return this.begin(site, drafts, { ...wish, best: round, what: await describeChange(site.id, drafts) })
  }

  /** Tries the site without an add-on that is to be retired. */
  startFor(site: SiteRow, retirementId: number, rules: Rule[], what: string): Promise<Rehearsal> {
    return this.begin(site, rules, { best: null, retirementId, what })
  }

  /** Looks at one page without an add-on, which is where the search for what works there begins. */
  startWithout(site: SiteRow, pageId: number, rule: Rule, what: string): Promise<Rehearsal> {
    return this.begin(site, [rule], { best: null, effectOf: rule.addon, what, pageIds: [pageId] })
  }

  private async begin(
    site: SiteRow,
    drafts: Rule[],
    {
      mode = 'guards',
      pageIds,
      ...more
    }: Omit<RehearsalRequest, 'best'> & {
      best: RehearsalRow['best']
      retirementId?: number
      effectOf?: string
      what: string
    },
  ): Promise<Rehearsal> {
    if ((await DeploymentRow.count({ where: { siteId: site.id, finishedAt: null } })) > 0)
      throw new ProblemError(
        409,
        'A change of this site’s rules is under way; what is rehearsed must not change meanwhile.',
      )
    const current = await this.live.current(site.id)
    const places = await this.placesOf(site, drafts, current.rules, pageIds)
    if (places.length === 0) throw new ProblemError(409, 'The drafts touch no page that a lens can see.')
    const prediction = await this.prediction.predict(site.id, drafts)
    const addOns = await AddOnRow.findAll({ where: { siteId: site.id, slug: drafts.map(({ addon }) => addon) } })
    try {
      const row = await this.sequelize.transaction(async (transaction) => {
        const created = await RehearsalRow.create(
          {
            siteId: site.id,
            ...more,
            mode,
            liveVersion: current.version,
            liveRules: current.rules,
            drafts,
            versions: Object.fromEntries(addOns.map(({ slug, version }) => [slug, version ?? ''])),
            prediction: Object.fromEntries(prediction.perPage.map(({ path, saved }) => [path, saved])),
            mechanism: mechanismFor(site),
          },
          { transaction },
        )
        await RehearsalPageRow.bulkCreate(
          places.map(({ pageId, lensId }, position) => ({ rehearsalId: created.id, pageId, lensId, position })),
          { transaction },
        )
        await forgetOldPictures(this.sequelize, site.id, transaction)
        const job: RehearseJob = { id: created.id }
        await this.queue.send(REHEARSE, job, { singletonKey: String(created.id), ...within(transaction) })
        return created.reload({ transaction })
      })
      return await this.view(row)
    } catch (error) {
      if (error instanceof UniqueConstraintError)
        throw new ProblemError(409, 'A rehearsal of this site is under way already.')
      throw error
    }
  }

  private async placesOf(
    site: SiteRow,
    drafts: readonly Rule[],
    live: readonly Rule[],
    pageIds: number[] | undefined,
  ): Promise<{ pageId: number; lensId: number }[]> {
    const rows = await PageRow.findAll({ where: { siteId: site.id, gone: false }, order: ['position'] })
    const pages = rows.map((page) => ({
      ...rulePage(page),
      id: page.id,
      signedIn: page.signedIn,
      views: page.importedViews ?? page.views,
    }))
    const merged = mergeRules(live, drafts)
    const unknown = pageIds?.find((id) => !pages.some((page) => page.id === id))
    if (unknown !== undefined) throw notFound('page')
    const touched = touchedPages(pages, live, merged)
    if (pageIds && !touched.some(({ id }) => pageIds.includes(id)))
      throw new ProblemError(409, 'The drafts touch none of these pages.')
    const inUse = await pagesInUse(this.sequelize, site.id, [...changedAddOns(live, merged)])
    const chosen = pageIds
      ? pages.filter(({ id }) => pageIds.includes(id))
      : pagesToRehearse(touched, pages, drafts, inUse, site.id)
    const lenses = (await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })).map((row) => ({
      id: row.id,
      visit: visitOf(row),
      isCold: row.settings.cache === 'cold',
    }))
    return chosen.flatMap((page) =>
      lensesFor(page, live, merged, lenses).map(({ id }) => ({ pageId: page.id, lensId: id })),
    )
  }

  async list(siteId: number): Promise<Rehearsal[]> {
    const rows = await RehearsalRow.findAll({ where: { siteId }, order: [['id', 'desc']], limit: MOST_LISTED })
    const now = await this.standOf(siteId)
    return Promise.all(rows.map((row) => this.view(row, now)))
  }

  async get(id: number): Promise<Rehearsal> {
    return this.view(await this.find(id))
  }

  /** What would keep the drafts from going live unasked; null where they have been rehearsed, and all guards hold. */
  async whyNotPassed(siteId: number): Promise<string | null> {
    const newest = await RehearsalRow.findOne({
      where: { siteId, state: 'done', ...OF_DRAFTS },
      order: [['id', 'desc']],
    })
    if (!newest) return 'The drafts have not been rehearsed.'
    const view = await this.view(newest)
    if (view.passed) return null
    if (view.stale !== null) return `The drafts have not been rehearsed as they are: ${view.stale}`
    return view.failing > 0
      ? `In the rehearsal ${view.failing === 1 ? 'a guard fails' : `${view.failing} guards fail`}.`
      : `In the rehearsal ${view.unread === 1 ? 'a page' : `${view.unread} pages`} could not be read.`
  }

  async sheet(id: number): Promise<RehearsalSheet> {
    const row = await this.find(id)
    const site = (await SiteRow.findByPk(row.siteId))!
    const [view, parts, sizes, pictured, drafts, searches] = await Promise.all([
      this.view(row),
      this.parts(row),
      pictureSizes(this.sequelize, id),
      stepsPictured(this.sequelize, id),
      ruleViews(row.siteId, row.drafts),
      CulpritSearchRow.findAll({ where: { rehearsalId: id }, order: ['id'] }),
    ])
    const pages = await PageRow.findAll({ where: { siteId: row.siteId, gone: false } })
    const touched = touchedPages(
      pages.map((page) => ({ ...rulePage(page), id: page.id })),
      row.liveRules,
      mergeRules(row.liveRules, row.drafts),
    )
    return {
      ...view,
      drafts,
      searches: searches.map((search) => searchView(search, parts.pages.get(search.pageId)?.path ?? '')),
      touched: touched.length,
      lookedAt: touched.filter(({ id: pageId }) => parts.pages.has(pageId)).length,
      each: parts.rows.map((each) => ({
        ...pageView(
          each,
          row,
          parts.pages.get(each.pageId)!,
          parts.lenses.get(each.lensId)!,
          parts.accepted,
          sizes.get(`${each.pageId} ${each.lensId}`),
          site.leastDifference,
        ),
        failedSteps: pictured.get(`${each.pageId} ${each.lensId}`) ?? [],
      })),
    }
  }

  async stop(id: number): Promise<Rehearsal> {
    const row = await this.find(id)
    if (row.state === 'running') {
      await row.update({ state: 'stopped', finishedAt: new Date() })
      await tellRehearsal(this.sequelize, { siteId: row.siteId, rehearsalId: id })
    }
    return this.view(row)
  }

  async accept(id: number, { pageId, lensId, guard, note, everywhere }: AcceptRequest): Promise<RehearsalSheet> {
    const { row, place } = await this.guarded(id, { pageId, lensId })
    const found = place.guards.find((result) => result.guard === guard)
    if (found?.outcome !== 'fails') throw new ProblemError(409, 'That guard does not fail on this page.')
    const { rows, pages } = await this.parts(row)
    const alike = everywhere
      ? rows.filter(({ guards }) => guards.some((one) => one.outcome === 'fails' && findsNoMore(one, found)))
      : [place]
    await AcceptedRow.bulkCreate(
      alike.map((view) => ({
        siteId: row.siteId,
        pageId: view.pageId,
        lensId: view.lensId,
        drafts: draftsKey(row.drafts, rulePage(pages.get(view.pageId)!)),
        guard,
        said: view.guards.find((one) => one.guard === guard)!,
        note,
        acceptedAt: new Date(),
      })),
      { updateOnDuplicate: ['said', 'note', 'acceptedAt'] },
    )
    if (row.isRound && row.state === 'done') await row.update({ sound: await isAsItShouldBe(row) })
    await tellRehearsal(this.sequelize, { siteId: row.siteId, rehearsalId: id })
    return this.sheet(id)
  }

  async unaccept(id: number, { pageId, lensId, guard }: UnacceptRequest): Promise<RehearsalSheet> {
    const { row, drafts } = await this.guarded(id, { pageId, lensId })
    await AcceptedRow.destroy({ where: { pageId, lensId, drafts, guard } })
    if (row.isRound && row.state === 'done') await row.update({ sound: await isAsItShouldBe(row) })
    await tellRehearsal(this.sequelize, { siteId: row.siteId, rehearsalId: id })
    return this.sheet(id)
  }

  async picture(place: RehearsedPlace, side: 'with' | 'without'): Promise<Buffer> {
    const row = await RehearsalPageRow.findOne({ where: { ...place } })
    const turns = row?.readings.filter((reading) => reading.side === side).map(({ turn }) => turn) ?? []
    const pictures = await keptPictures(this.sequelize, place)
    const jpeg = turns.flatMap((turn) => pictures.get(turn) ?? [])[0]
    if (!jpeg) throw notFound('picture')
    return jpeg
  }

  async stepPicture(place: RehearsedPlace, step: string): Promise<Buffer> {
    const jpeg = await stepPicture(this.sequelize, place, step)
    if (!jpeg) throw notFound('picture')
    return jpeg
  }

  private async guarded(id: number, place: { pageId: number; lensId: number }) {
    const row = await this.find(id)
    const found = await RehearsalPageRow.findOne({ where: { rehearsalId: id, ...place } })
    const page = found && (await PageRow.findByPk(place.pageId))
    if (!found || !page) throw notFound('page of this rehearsal')
    return { row, place: found, drafts: draftsKey(row.drafts, rulePage(page)) }
  }

  private async find(id: number): Promise<RehearsalRow> {
    const row = await RehearsalRow.findByPk(id)
    if (!row) throw notFound('rehearsal')
    return row
  }

  private async parts(row: RehearsalRow) {
    const rows = await RehearsalPageRow.findAll({ where: { rehearsalId: row.id }, order: ['position', 'lensId'] })
    const [pages, lenses, accepted] = await Promise.all([
      PageRow.findAll({ where: { id: { [Op.in]: rows.map(({ pageId }) => pageId) } } }),
      LensRow.findAll({ where: { id: { [Op.in]: rows.map(({ lensId }) => lensId) } }, paranoid: false }),
      AcceptedRow.findAll({ where: { siteId: row.siteId } }),
    ])
    return {
      rows,
      pages: new Map(pages.map((page) => [page.id, page])),
      lenses: new Map(lenses.map((lens) => [lens.id, lens])),
      accepted,
    }
  }

  /** What a rehearsal is held against: the same for all of a site. */
  private async standOf(siteId: number): Promise<Stand> {
    const [drafts, live, addOns, accepted] = await Promise.all([
      this.drafts.rules(siteId),
      this.live.current(siteId),
      AddOnRow.findAll({ where: { siteId }, attributes: ['slug', 'name', 'version'] }),
      AcceptedRow.findAll({ where: { siteId } }),
    ])
    return { drafts, live: live.rules, addOns, accepted }
  }

  private async view(row: RehearsalRow, known?: Stand): Promise<Rehearsal> {
    const now = known ?? (await this.standOf(row.siteId))
    const each = await this.sequelize.query<{
      pageId: number
      lensId: number
      state: string
      guards: RehearsalPageRow['guards']
      path: string
      kind: string
      area: 'public' | 'office'
    }>(
      `select page_id "pageId", lens_id "lensId", state, guards, path, kind, area from rehearsal_page
       join page on page.id = page_id where rehearsal_id = :id`,
      { replacements: { id: row.id }, type: QueryTypes.SELECT },
    )
    let [failing, taken] = [0, 0]
    for (const one of each)
      for (const guard of one.guards.filter(({ outcome }) => outcome === 'fails'))
        if (acceptanceOf(guard, one, draftsKey(row.drafts, one), now.accepted)) taken++
        else failing++
    const unread = each.filter(({ state }) => state === 'failed').length
    const stale = whyStale(row, now)
    return {
      id: row.id,
      siteId: row.siteId,
      what: row.what,
      mode: row.mode,
      state: row.state,
      failure: row.failure,
      mechanism: row.mechanism,
      startedAt: row.startedAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
      pages: each.length,
      pagesDone: each.filter(({ state }) => state !== 'waiting').length,
      failing,
      accepted: taken,
      unread,
      stale,
      passed: row.state === 'done' && failing === 0 && unread === 0 && stale === null,
      retirementId: row.retirementId,
      effectOf: row.effectOf,
      deploymentId: row.deploymentId,
      round: row.isRound ? { against: row.against, sound: row.sound } : null,
      best: row.best && { ...row.best, next: await this.roundAfter(row) },
    }
  }

  private async roundAfter({ id, siteId }: RehearsalRow): Promise<number | null> {
    const next = await RehearsalRow.findOne({ where: { siteId, 'best.after': id } as never, attributes: ['id'] })
    return next?.id ?? null
  }
}

interface Stand {
  drafts: Rule[]
  live: Rule[]
  addOns: AddOnRow[]
  accepted: AcceptedRow[]
}

/** A rehearsal speaks of the drafts, live rules and add-ons as they were. */
function whyStale(row: RehearsalRow, { drafts, live, addOns }: Stand): string | null {
  // It was of what went live, and says so for ever.
  if (row.deploymentId !== null || row.isRound) return null
  if (row.retirementId === null && row.effectOf === null && !sameRules(drafts, row.drafts))
    return 'the drafts have changed since.'
  if (!sameRules(live, row.liveRules)) return 'the live rules have changed since.'
  const newer = addOns.find(
    ({ slug, version }) => Object.hasOwn(row.versions, slug) && row.versions[slug] !== (version ?? ''),
  )
  return newer ? `${newer.name} has another version since.` : null
}
