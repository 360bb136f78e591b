import { setImmediate } from 'node:timers/promises'
import { Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import {
  addedScripts,
  isOfAll,
  MEASURES,
  middleByBytes,
  noToll,
  PLAIN_VISIT,
  resolve,
  saidBy,
  sumTolls,
  timedOnes,
  unloading,
  type Dependencies,
  type PredictionPack,
  type Reading,
  type ResolvedEffect,
  type Rule,
  type Toll,
} from '@unvelt/core'
import type { Prediction } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { readingsOf } from '../reading/reading-store.js'
import { groupsStamp, pagesWithGroups, groupsOf, predictionPack, storeGroups } from '../toll/prediction-groups-store.js'
import { SweepService } from '../sweep/sweep.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { LiveRulesService } from './live-rules.service.js'
import { Once } from '../kept/once.js'
import { PageTotals } from './page-totals.js'
import { lighterBy } from '../made-copy/lighter-by.js'
import { coveredPages, mergeRules } from './merge-rules.js'

/** Predicts what drafts spare, from the newest sweep. */
@Injectable()
export class PredictionService {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly live: LiveRulesService,
  ) {
    this.totals = new PageTotals(sequelize)
  }

  predict(siteId: number, drafts: readonly Rule[]): Promise<Prediction> {
    return this.inTurn(siteId, async () => {
      const all = await PageRow.findAll({ where: { siteId }, order: ['position'], raw: true })
      const sweep = await this.sweeps.toShow(siteId)
      const live = (await this.live.current(siteId)).rules
      return this.sum({ siteId, sweep, all, live }, drafts)
    })
  }

  /** What rules spare beside those under which a sweep was read. */
  over(under: ReadUnder, rules: readonly Rule[]): Promise<Prediction> {
    return this.inTurn(under.siteId, () => this.sum(under, rules))
  }

  private async sum({ siteId, sweep, all, live }: ReadUnder, drafts: readonly Rule[]): Promise<Prediction> {
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
    const totals = await this.totals.of(sweep.id)
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
      const before = new Set(effectsOn(live, page).map(sayingOf))
      const effects = effectsOn(merged, page).filter((effect) => !before.has(sayingOf(effect)))
      const key = JSON.stringify(effects.map(sayingOf))
      const known = alike.get(key)
      if (known) known.pages.push(page)
      else alike.set(key, { effects, pages: [page] })
    }
    const saved = new Map<number, Record<string, number>>()
    const postponed = new Float64Array(MEASURES.length)
    const tally = new Tally(result)
    for (const { effects, pages: same } of alike.values()) {
      const on = new Set(same.map(({ id }) => id))
      const said = saidBy(effects, await lighterBy(siteId, effects))
      pack.predict(said, on, (pageId, row, later) => {
        saved.set(pageId, byMeasure(row))
        later.forEach((figure, n) => (postponed[n]! += figure))
      })
      for (const each of pack.unreached(said, on)) tally.outOfReach(each.payer, each.url, each.because)
      if (dependencies.libraries.length > 0) {
        const whole = new Map(effects.filter(isOfAll).map(({ addon, effect }) => [addon, effect]))
        for (const { payers } of pack.present(on)) tally.staying(unloading(payers, whole, dependencies).staying)
      }
      // What the rewriter puts into a page for it is the same on all of them.
      const { decodedBytes } = sumTolls(addedScripts(effects, sweep.sources, `http://${sweep.sources.ownHosts[0]}/`))
      for (const { id } of same) saved.get(id)!.decodedBytes! -= decodedBytes
    }
    result.postponed = byMeasure(postponed)
    for (const page of pages) {
      const row = saved.get(page.id)
      if (!row) continue
      add(result.saved, row)
      add(result.before, totals.get(page.id) ?? figures(noToll('')))
      result.perPage.push({ path: page.path, saved: row })
    }
    return result
  }

  /** By site. */
  private readonly last = new Map<number, Promise<unknown>>()

  /** A site's one after another, so that many at once keep nobody else waiting for all of them: whatever is small gets through in between. */
  private inTurn<T>(siteId: number, sum: () => Promise<T>): Promise<T> {
    const mine = (this.last.get(siteId) ?? Promise.resolve()).then(() => setImmediate()).then(sum)
    this.last.set(
      siteId,
      mine.catch(() => undefined),
    )
    return mine
  }

  /** Of the sweeps that were asked last. */
  private readonly kept = new Map<string, PredictionPack>()
  private readonly once = new Once()
  private readonly totals: PageTotals

  /** What the pages of a sweep are spared by whoever goes. Of pages read by an earlier version it is worked out now, and kept. */
  private async pack(sweep: SweepRow, pages: readonly PageRow[], dependencies: Dependencies): Promise<PredictionPack> {
    const known = await pagesWithGroups(this.sequelize, sweep.id)
    for (const { id } of pages) {
      if (known.has(id)) continue
      const kept = groupsOf(await readingsOf(sweep.id, id, 'live'), sweep.sources)
      if (kept) await storeGroups(this.sequelize, { sweepId: sweep.id, pageId: id }, kept)
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
}

/** What holds on a page for somebody at a desk who is not signed in, as it was read. */
const effectsOn = (rules: readonly Rule[], page: PageRow): ResolvedEffect[] =>
  resolve(rules, rulePage(page), PLAIN_VISIT)

/** Everything about an effect but which rules it comes from. */
const sayingOf = ({ rules: _, conflictsWith: __, ...effect }: ResolvedEffect): string => JSON.stringify(effect)

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

const byMeasure = (row: Float64Array): Record<string, number> =>
  Object.fromEntries(MEASURES.map((measure, n) => [measure, row[n]!]))

function figures(toll: Toll): Record<string, number> {
  return Object.fromEntries(MEASURES.map((measure) => [measure, toll[measure]]))
}

function add(to: Record<string, number>, row: Record<string, number>): void {
  for (const measure of MEASURES) to[measure] = (to[measure] ?? 0) + (row[measure] ?? 0)
}
