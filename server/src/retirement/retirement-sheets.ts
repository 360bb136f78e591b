import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { circleOf, registrableDomain, retirementSteps, type RetirementFacts, type Rule } from '@unvelt/core'
import type { Retirement, RetirementSheet, WorkPage } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { outsideOfSweep, type OutsideOfSweep } from '../outside/outside-of-sweep.js'
import { PageRow } from '../page/page.model.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { RehearsalService } from '../rehearsal/rehearsal.service.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { ruleViews } from '../rule/rule-view.js'
import { SiteRow } from '../site/site.model.js'
import { SiteCasesService, type SiteCases } from '../standing/site-cases.service.js'
import { SweepService } from '../sweep/sweep.service.js'
import { leftoverView } from './leftover-view.js'
import { RetirementRow } from './retirement.model.js'
import { watchWordsOf } from './watch-words.js'
import { gainOf, wholeSweeps } from './whole-sweeps.js'

const DAY_MS = 86_400_000

export type Known = SiteCases

/** How far retirements are, by the facts. */
@Injectable()
export class RetirementSheets {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly cases: SiteCasesService,
    private readonly sweeps: SweepService,
    private readonly rehearsals: RehearsalService,
    private readonly live: LiveRulesService,
  ) {}

  async sheet(row: RetirementRow): Promise<RetirementSheet> {
    const site = (await SiteRow.findByPk(row.siteId))!
    const known = await this.known(site)
    const addOn = known.addOns.find(({ slug }) => slug === row.slug)
    const worklist = await this.worklist(row, known)
    return {
      ...(await this.view(site, row, known)),
      hasConnector: site.connector !== null,
      ...standsAt(site, row, known),
      neededBy: await this.neededBy(row, known),
      needs: (addOn?.needs ?? []).map((slug) => known.addOns.find((one) => one.slug === slug)?.name ?? slug),
      useNotKnown: known.ledger.pages.filter(({ id }) => known.use.wordOf(row.slug, id) === 'unknown').length,
      worklist,
      successor: row.successor,
      word: row.word,
      watchDays: row.watchDays,
      snapshot: row.snapshot,
      rehearsalId: row.rehearsalId,
      missed: row.missed,
      searched: row.searched,
      watchWords: watchWordsOf(row, addOn),
      rules: await ruleViews(site.id, await this.rulesAbout(row)),
      lookedAt: row.lookedAt?.toISOString() ?? null,
      leftovers: (row.leftovers ?? []).map((one) => leftoverView(one, row.offAt)),
      tableBytes: addOn?.tables.reduce((sum, { bytes }) => sum + bytes, 0) ?? 0,
      rows: addOn?.tables.reduce((sum, { rows }) => sum + rows, 0) ?? 0,
      log: row.log,
    }
  }

  /** What standing knows, which is what retirements go by. */
  async known(site: SiteRow): Promise<Known> {
    return this.cases.of(site, await this.sweeps.toShow(site.id))
  }

  /** What the newest sweep saw of other companies' hosts, once that has been worked out: while it is read nobody waits for it. */
  async outside({ ledger }: Known): Promise<OutsideOfSweep | null> {
    return ledger.sweep?.status === 'running'
      ? null
      : ledger.sweep && outsideOfSweep(this.sequelize, await this.sweeps.get(ledger.sweep.id))
  }

  /** Those that need each other and are retired together keep none of each other from going. */
  private async neededBy({ siteId, slug, features }: RetirementRow, { addOns }: Known): Promise<string[]> {
    if (features) return []
    const needing = addOns.filter(({ needs, active }) => active && needs.includes(slug))
    const circle = circleOf(slug, new Map(addOns.map((addOn) => [addOn.slug, addOn.needs])))
    if (!needing.some((other) => circle.has(other.slug))) return needing.map(({ name }) => name)
    const open = await RetirementRow.findAll({
      where: { siteId, finishedAt: null, slug: [...circle] },
      attributes: ['slug'],
    })
    const together = new Set(open.map((row) => row.slug))
    return needing.filter((other) => !together.has(other.slug)).map(({ name }) => name)
  }

  /** Live rules about what goes, or about its parts that go. */
  private async rulesAbout({ siteId, slug, features }: RetirementRow): Promise<Rule[]> {
    const { rules } = await this.live.current(siteId)
    return rules.filter(
      ({ addon, feature }) => addon === slug && (!features || (feature !== undefined && features.includes(feature))),
    )
  }

  /** Hosts of what is gone that the newest sweep has seen all the same. */
  private async seenAgain({ siteId, slug, removedAt }: RetirementRow, known: Known): Promise<string[]> {
    if (!removedAt || !known.ledger.sweep) return []
    if (new Date(known.ledger.sweep.startedAt) < removedAt) return []
    const addOn = await AddOnRow.findOne({ where: { siteId, slug }, attributes: ['outsideHosts'] })
    const gone = new Set((addOn?.outsideHosts ?? []).map(registrableDomain))
    if (gone.size === 0) return []
    const outside = await this.outside(known)
    const seen = (outside?.payers ?? []).flatMap(({ hosts }) => hosts.map(({ host }) => host))
    return [...new Set(seen.filter((host) => gone.has(registrableDomain(host.replace(/:\d+$/, '')))))]
  }

  /** All pages that were in use when it began, and those that came since. */
  private async worklist({ siteId, worklist, slug, features }: RetirementRow, known: Known): Promise<WorkPage[]> {
    if (features) return []
    const isUsed = (pageId: number) => ['used', 'planned'].includes(known.use.wordOf(slug, pageId))
    const pages = await PageRow.findAll({ where: { siteId }, order: ['position'] })
    const byId = new Map(pages.map((page) => [page.id, page]))
    const listed = new Set(worklist.map(({ pageId }) => pageId))
    const newer = pages
      .filter(({ id, gone }) => !gone && !listed.has(id) && isUsed(id))
      .map(({ id }) => ({ pageId: id, because: whyUsed(known, slug, id), owner: '', due: null }))
    return [...worklist, ...newer].flatMap((entry) => {
      const page = byId.get(entry.pageId)
      return page && !page.gone ? [{ ...entry, path: page.path, title: page.title, done: !isUsed(entry.pageId) }] : []
    })
  }

  async view(site: SiteRow, row: RetirementRow, known: Known): Promise<Retirement> {
    const now = new Date()
    const wentAt = row.offAt ?? (site.connector ? null : row.openedAt)
    const stands = standsAt(site, row, known)
    const sweeps = await wholeSweeps(this.sequelize, site.id)
    const watchUntil = row.offAt ? new Date(row.offAt.getTime() + row.watchDays * DAY_MS) : null
    const since = (at: Date | null) => (at ? (sweeps.find(({ startedAt }) => startedAt >= at) ?? null) : null)
    const facts: RetirementFacts = {
      isPart: row.features !== null,
      looked: known.ledger.sweep !== null,
      usedOn: row.features
        ? featuresOf(row, known).reduce((sum, { uses = 0 }) => sum + uses, 0)
        : (await this.worklist(row, known)).filter(({ done }) => !done).length,
      neededBy: await this.neededBy(row, known),
      successor: row.successor?.kind ?? null,
      word: row.word !== null,
      snapshot: row.snapshot ? (row.snapshot.sound ? 'sound' : 'unsound') : null,
      rehearsal: await this.rehearsalOf(row),
      ...stands,
      watchUntil,
      sweptAt: since(row.offAt)?.startedAt ?? null,
      // Where no site keeps a log for us there is nothing to look at.
      lookedAt: site.connector ? row.lookedAt : now,
      missed: row.missed.length,
      leftovers: row.leftovers?.length ?? null,
      // What cost no page anything is proved by being gone.
      proved: row.wasGone
        ? row.leftovers?.length === 0
        : site.connector
          ? since(row.removedAt ?? row.offAt) !== null
          : !stands.isActive && since(row.openedAt) !== null,
    }
    return {
      id: row.id,
      slug: row.slug,
      name: row.name,
      version: row.version,
      features: row.features && featuresOf(row, known).map(({ slug, name }) => ({ slug, name })),
      wasGone: row.wasGone,
      state: row.state,
      steps: retirementSteps(facts, now),
      openedAt: row.openedAt.toISOString(),
      finishedAt: row.finishedAt?.toISOString() ?? null,
      offAt: row.offAt?.toISOString() ?? null,
      removedAt: row.removedAt?.toISOString() ?? null,
      watchUntil: watchUntil?.toISOString() ?? null,
      doing: row.doing,
      failure: row.failure,
      before: row.before,
      gain: wentAt ? await gainOf(this.sequelize, sweeps, wentAt) : null,
      isBack: row.removedAt !== null && stands.isInstalled,
      seenAgain: await this.seenAgain(row, known),
    }
  }

  private async rehearsalOf({ rehearsalId }: RetirementRow): Promise<RetirementFacts['rehearsal']> {
    if (rehearsalId === null || !(await RehearsalRow.findByPk(rehearsalId, { attributes: ['id'] }))) return null
    const { state, passed, stale } = await this.rehearsals.get(rehearsalId)
    if (state === 'running') return 'running'
    if (passed) return 'passed'
    return stale === null ? 'failed' : 'stale'
  }
}

export const whyUsed = ({ use }: Known, slug: string, pageId: number): string[] => [
  ...new Set(use.factsOf(slug, pageId).map(({ because }) => because)),
]

/** By the site's own inventory; where it tells none, by whether the newest sweep charges it with anything. */
function standsAt({ connector }: SiteRow, row: RetirementRow, known: Known) {
  const { slug, wasGone, features } = row
  const { addOns, cases } = known
  if (connector === null) {
    // Before anybody has looked it counts as there.
    const isActive = known.ledger.sweep === null || (cases.find((one) => one.slug === slug)?.pages.length ?? 0) > 0
    return { isActive, isInstalled: isActive }
  }
  const addOn = wasGone ? undefined : addOns.find((one) => one.slug === slug)
  if (features)
    return {
      isActive: (addOn?.active ?? false) && featuresOf(row, known).some(({ on }) => on),
      isInstalled: addOn !== undefined,
    }
  return { isActive: addOn?.active ?? false, isInstalled: addOn !== undefined }
}

/** Those of the add-on's features that are to go. */
function featuresOf({ slug, features }: RetirementRow, { addOns }: Known) {
  const wished = new Set(features)
  return (addOns.find((one) => one.slug === slug)?.features ?? []).filter((feature) => wished.has(feature.slug))
}
