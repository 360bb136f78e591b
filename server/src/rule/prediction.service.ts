import { Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import {
  addedScripts,
  areTimed,
  attribute,
  MEASURES,
  middleByBytes,
  middleRepeats,
  noToll,
  PLAIN_VISIT,
  predict,
  resolve,
  sumTolls,
  timedOnes,
  tolls,
  unloading,
  type Dependencies,
  type Effect,
  type PredictionPack,
  type Reading,
  type ResolvedEffect,
  type Rule,
  type Toll,
  type Unloads,
} from '@unvelt/core'
import type { Prediction } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { readingsOf } from '../reading/reading-store.js'
import { groupsOf, groupsStamp, pagesWithGroups, predictionPack, storeGroups } from '../toll/prediction-groups-store.js'
import { SweepService } from '../sweep/sweep.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { LiveRulesService } from './live-rules.service.js'
import { Once } from '../kept/once.js'
import { lighterBy } from '../made-copy/lighter-by.js'
import { lighterPages } from './lighter-pages.js'
import { coveredPages, mergeRules } from './merge-rules.js'

/** Predicts what drafts spare, from the newest sweep. */
@Injectable()
export class PredictionService {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly live: LiveRulesService,
  ) {}

  async predict(siteId: number, drafts: readonly Rule[]): Promise<Prediction> {
    const all = await PageRow.findAll({ where: { siteId }, order: ['position'], raw: true })
    const sweep = await this.sweeps.toShow(siteId)
    const live = (await this.live.current(siteId)).rules
    return this.over({ siteId, sweep, all, live }, drafts)
  }

  /** What rules spare beside those under which a sweep was read. */
  async over({ siteId, sweep, all, live, totals: known }: ReadUnder, drafts: readonly Rule[]): Promise<Prediction> {
    const pages = coveredPages(drafts, all)
    const merged = mergeRules(live, drafts)
    const dependencies = await dependenciesOf(siteId)
    const result: Prediction = {
      saved: figures(noToll('')),
      postponed: figures(noToll('')),
      before: figures(noToll('')),
      perPage: [],
      staying: [],
      outOfReach: [],
      toRehearse: drafts.filter(({ setting, feature }) => setting !== undefined || feature !== undefined).length,
      sweepId: sweep?.id ?? null,
      pages: pages.length,
      pagesUnread: 0,
    }
    if (!sweep || pages.length === 0) return { ...result, pagesUnread: pages.length }
    const totals = known ?? (await pageTotals(this.sequelize, sweep.id))
    const charged = pages.filter(({ id }) => totals.has(id))
    const pack = await this.once.run(`${sweep.id} ${JSON.stringify([charged.map(({ id }) => id), dependencies])}`, () =>
      this.pack(sweep, charged, dependencies),
    )
    const read = new Set(pack.pageIds)
    const alike = new Map<string, { effects: ResolvedEffect[]; pages: PageRow[] }>()
    for (const page of pages) {
      if (!read.has(page.id)) {
        result.pagesUnread += 1
        continue
      }
      const before = new Set(effectsOn(live, page).map(said))
      const effects = effectsOn(merged, page).filter((effect) => !before.has(said(effect)))
      const key = JSON.stringify(effects.map(said))
      const known = alike.get(key)
      if (known) known.pages.push(page)
      else alike.set(key, { effects, pages: [page] })
    }
    const saved = new Map<number, Record<string, number>>()
    const tally = new Tally(result)
    for (const { effects, pages: same } of alike.values()) {
      const whole = new Map(effects.filter(isWhole).map(({ addon, effect }) => [addon, effect]))
      const unloads = unloadsOf(whole)
      const on = new Set(same.map(({ id }) => id))
      pack.spared(unloads, on, (pageId, row) =>
        saved.set(pageId, Object.fromEntries(MEASURES.map((measure, n) => [measure, row[n]!]))),
      )
      for (const each of pack.unreached(unloads, on)) tally.outOfReach(each.payer, each.url, each.because)
      if (dependencies.libraries.length > 0)
        for (const { payers } of pack.present(on)) tally.staying(unloading(payers, whole, dependencies).staying)
      // A file that is only asked for sooner weighs what it did.
      const apart = effects.filter(
        ({ effect, file }) => !UNLOADING.has(effect) || (file !== undefined && effect !== 'hint'),
      )
      const isLighter = apart.length > 0 && apart.every(({ addon, copy }) => copy?.content && !unloads.has(addon))
      const lighter = isLighter ? await lighterPages(this.sequelize, sweep, apart, [...on]) : null
      for (const [id, less] of lighter ?? []) add(saved.get(id) ?? {}, { ...less })
      for (const { id } of same) {
        // What only comes later, and what is said of single files, is worked out from the readings themselves.
        if (apart.length === 0 || lighter) continue
        const later = await this.later(sweep, id, effects, dependencies)
        saved.set(id, { ...later.saved })
        add(result.postponed, later.postponed)
        for (const [payer, url, because] of later.outOfReach) tally.outOfReach(payer, url, because)
      }
      // What the rewriter puts into a page for it is the same on all of them.
      const { decodedBytes } = sumTolls(addedScripts(effects, sweep.sources, `http://${sweep.sources.ownHosts[0]}/`))
      for (const { id } of same) saved.get(id)!.decodedBytes! -= decodedBytes
    }
    for (const page of pages) {
      const row = saved.get(page.id)
      if (!row) continue
      add(result.saved, row)
      add(result.before, totals.get(page.id) ?? figures(noToll('')))
      result.perPage.push({ path: page.path, saved: row })
    }
    return result
  }

  /** Of the sweeps that were asked last. */
  private readonly kept = new Map<string, PredictionPack>()
  /** What was worked out from readings, which are dear to unpack; of one state of one sweep. */
  private readonly laterKnown = new Map<string, Later>()

  private async later(
    sweep: SweepRow,
    pageId: number,
    effects: readonly ResolvedEffect[],
    dependencies: Dependencies,
  ): Promise<Later> {
    const key = `${sweep.id} ${pageId} ${effects.map(said).join(' ')} ${JSON.stringify(dependencies)}`
    let known = this.laterKnown.get(key)
    if (!known) {
      known = await laterOf(sweep, pageId, effects, dependencies)
      if (this.laterKnown.size >= MOST_KNOWN) this.laterKnown.clear()
      this.laterKnown.set(key, known)
    }
    return known
  }

  private readonly once = new Once()

  /** What the pages of a sweep are spared by whoever goes. Of pages read by an earlier version it is worked out now, and kept. */
  private async pack(sweep: SweepRow, pages: readonly PageRow[], dependencies: Dependencies): Promise<PredictionPack> {
    const known = await pagesWithGroups(this.sequelize, sweep.id)
    for (const { id } of pages) {
      if (known.has(id)) continue
      const groups = groupsOf(await readingsOf(sweep.id, id, 'live'), sweep.sources)
      if (groups) await storeGroups(this.sequelize, { sweepId: sweep.id, pageId: id }, groups)
    }
    const key = `${sweep.id} ${await groupsStamp(this.sequelize, sweep.id)} ${JSON.stringify(dependencies)}`
    const kept = this.kept.get(key) ?? (await predictionPack(this.sequelize, sweep.id, dependencies))
    this.kept.delete(key)
    this.kept.set(key, kept)
    const [oldest] = this.kept.keys()
    if (this.kept.size > MOST_SWEEPS) this.kept.delete(oldest!)
    return kept
  }
}

const UNLOADING: ReadonlySet<Effect> = new Set(['skip', 'leave-out', 'system-font', 'keep', 'hint', 'set'])

const unloadsOf = (effects: ReadonlyMap<string, Effect>): Unloads =>
  new Map(
    [...effects].flatMap(([payer, effect]): [string, 'skip' | 'leave-out'][] =>
      effect === 'skip'
        ? [[payer, 'skip']]
        : effect === 'leave-out' || effect === 'system-font'
          ? [[payer, 'leave-out']]
          : [],
    ),
  )

/** Counts on how many pages something is said. */
class Tally {
  constructor(private readonly into: Prediction) {}

  staying(staying: Record<string, string[]>): void {
    for (const [library, neededBy] of Object.entries(staying)) {
      const known = this.into.staying.find((entry) => entry.library === library)
      if (known) known.pages += 1
      else this.into.staying.push({ library, neededBy, pages: 1 })
    }
  }

  outOfReach(payer: string, url: string, because: string): void {
    const known = this.into.outOfReach.find((entry) => entry.url === url && entry.payer === payer)
    if (known) known.pages += 1
    else if (this.into.outOfReach.length < MOST_NAMED) this.into.outOfReach.push({ payer, url, because, pages: 1 })
  }
}

const MOST_NAMED = 100

/** Sweeps whose groups are held in memory: the one that is shown, and those by which live rules are judged. */
const MOST_SWEEPS = 3

/** A sweep, and the rules under which it was read. */
export interface ReadUnder {
  siteId: number
  sweep: SweepRow | null
  /** All pages of the site. */
  all: PageRow[]
  live: readonly Rule[]
  /** What its pages cost, where that is known already. */
  totals?: Map<number, Record<string, number>>
}

const MOST_KNOWN = 10_000

interface Later {
  saved: Record<string, number>
  postponed: Record<string, number>
  outOfReach: [payer: string, url: string, because: string][]
}

/** What a page only loads later, and what it is spared by that; each measure from the repeat that the ledger shows. */
async function laterOf(
  sweep: SweepRow,
  pageId: number,
  effects: readonly ResolvedEffect[],
  dependencies: Dependencies,
): Promise<Later> {
  const later: Later = { saved: {}, postponed: {}, outOfReach: [] }
  const readings = await readingsOf(sweep.id, pageId, 'live')
  const attributions = readings.map((reading) => attribute(reading, sweep.sources))
  const charged = readings.map((reading, index) => tolls(reading, attributions[index]!))
  const known = { madeCopies: await lighterBy(sweep.siteId, effects) }
  const predictions = readings.map((reading, n) => predict(reading, attributions[n]!, effects, dependencies, known))
  const middle = middleRepeats(charged, areTimed(readings))
  for (const measure of MEASURES) {
    const { saved: spared, postponed, added } = predictions[middle[measure]]!
    later.saved[measure] = sumTolls(spared)[measure] - sumTolls(added)[measure]
    later.postponed[measure] = sumTolls(postponed)[measure]
  }
  // What whole add-ons leave behind is told by the groups already.
  const isNew = (payer: string) =>
    effects.some((each) => each.addon === payer && !(isWhole(each) && UNLOADING.has(each.effect)))
  for (const { payer, url, because } of predictions[middle.transferBytes]!.outOfReach)
    if (isNew(payer)) later.outOfReach.push([payer, url, because])
  return later
}

/** What each page of a sweep costs now, in each measure. */
export async function pageTotals(sequelize: Sequelize, sweepId: number): Promise<Map<number, Record<string, number>>> {
  const columns = MEASURES.map(
    (measure) => `sum(${measure.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)})::float8 "${measure}"`,
  )
  const rows = await sequelize.query<{ pageId: number } & Record<string, number>>(
    `select page_id "pageId", ${columns.join(', ')} from toll where sweep_id = $1 and variant = 'live' group by page_id`,
    { bind: [sweepId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ pageId, ...row }) => [pageId, row as Record<string, number>]))
}

/** What holds on a page for somebody at a desk who is not signed in, as it was read. */
const effectsOn = (rules: readonly Rule[], page: PageRow): ResolvedEffect[] =>
  resolve(rules, rulePage(page), PLAIN_VISIT)

const isWhole = ({ feature, file, setting }: ResolvedEffect) => !feature && !file && !setting

/** Everything about an effect but which rules it comes from. */
const said = ({ rules: _, conflictsWith: __, ...effect }: ResolvedEffect): string => JSON.stringify(effect)

/** The repeat with the median number of bytes; of several with as many, one whose times count. */
export async function middleReading(sweep: SweepRow, pageId: number, variant = 'live'): Promise<Reading | undefined> {
  const readings = await readingsOf(sweep.id, pageId, variant)
  const middle = middleByBytes(readings)
  if (!middle) return undefined
  return timedOnes(readings).find((reading) => bytesOf(reading) === bytesOf(middle)) ?? middle
}

/** The same among those whose times count. */
export async function middleTimedReading(sweep: SweepRow, pageId: number, variant = 'live'): Promise<Reading | null> {
  return middleByBytes(timedOnes(await readingsOf(sweep.id, pageId, variant)))
}

const bytesOf = ({ requests }: Reading) => requests.reduce((sum, { transferBytes }) => sum + transferBytes, 0)

async function dependenciesOf(siteId: number): Promise<Dependencies> {
  const rows = await AddOnRow.findAll({ where: { siteId } })
  return {
    needs: Object.fromEntries(rows.map((row) => [row.slug, row.needs])),
    libraries: rows.filter((row) => row.library).map((row) => row.slug),
  }
}

function figures(toll: Toll): Record<string, number> {
  return Object.fromEntries(MEASURES.map((measure) => [measure, toll[measure]]))
}

function add(to: Record<string, number>, row: Record<string, number>): void {
  for (const measure of MEASURES) to[measure] = (to[measure] ?? 0) + (row[measure] ?? 0)
}
