import { Injectable } from '@nestjs/common'
import {
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
  type Dependencies,
  type Effect,
  type Reading,
  type Rule,
  type Toll,
} from '@unvelt/core'
import type { Prediction } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { readingsOf } from '../reading/reading-store.js'
import { SweepService } from '../sweep/sweep.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { LiveRulesService } from './live-rules.service.js'
import { coveredPages, mergeRules } from './merge-rules.js'

/** Predicts what drafts spare, from the newest sweep's own readings. */
@Injectable()
export class PredictionService {
  constructor(
    private readonly sweeps: SweepService,
    private readonly live: LiveRulesService,
  ) {}

  async predict(siteId: number, drafts: readonly Rule[]): Promise<Prediction> {
    const pages = coveredPages(drafts, await PageRow.findAll({ where: { siteId }, order: ['position'] }))
    const sweep = await this.sweeps.toShow(siteId)
    const live = (await this.live.current(siteId)).rules
    const dependencies = await dependenciesOf(siteId)
    const result: Prediction = {
      saved: figures(noToll('')),
      postponed: figures(noToll('')),
      before: figures(noToll('')),
      perPage: [],
      staying: [],
      sweepId: sweep?.id ?? null,
      pages: pages.length,
      pagesUnread: 0,
    }
    for (const page of pages) {
      const readings = sweep ? await readingsOf(sweep.id, page.id, 'live') : []
      if (!sweep || readings.length === 0) {
        result.pagesUnread += 1
        continue
      }
      const before = changes(live, page)
      const effects = new Map(
        [...changes(mergeRules(live, drafts), page)].filter(([addOn, effect]) => before.get(addOn) !== effect),
      )
      const { saved, postponed, now, staying } = predictPage(readings, sweep, effects, dependencies)
      add(result.saved, saved)
      add(result.postponed, postponed)
      add(result.before, now)
      result.perPage.push({ path: page.path, saved: figures(saved) })
      for (const [library, neededBy] of Object.entries(staying)) {
        const known = result.staying.find((entry) => entry.library === library)
        if (known) known.pages += 1
        else result.staying.push({ library, neededBy, pages: 1 })
      }
    }
    return result
  }
}

/** A page's prediction: each measure from the repeat that the ledger shows it from, so that the two agree. */
function predictPage(readings: Reading[], sweep: SweepRow, effects: Map<string, Effect>, dependencies: Dependencies) {
  const attributions = readings.map((reading) => attribute(reading, sweep.sources))
  const charged = readings.map((reading, index) => tolls(reading, attributions[index]!))
  const predictions = readings.map((reading, index) => predict(reading, attributions[index]!, effects, dependencies))
  const middle = middleRepeats(charged, areTimed(readings))
  const saved = noToll('')
  const postponed = noToll('')
  const now = noToll('')
  for (const measure of MEASURES) {
    saved[measure] = sumTolls(predictions[middle[measure]]!.saved)[measure]
    postponed[measure] = sumTolls(predictions[middle[measure]]!.postponed)[measure]
    now[measure] = sumTolls(charged[middle[measure]]!)[measure]
  }
  return { saved, postponed, now, staying: predictions[middle.transferBytes]!.staying }
}

/** The effect on each whole add-on of a page. */
function changes(rules: readonly Rule[], page: PageRow): Map<string, Effect> {
  const whole = resolve(rules, rulePage(page), PLAIN_VISIT).filter(
    (effect) => !effect.feature && !effect.file && !effect.setting,
  )
  return new Map(whole.map(({ addon, effect }) => [addon, effect]))
}

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

function add(to: Record<string, number>, toll: Toll): void {
  for (const measure of MEASURES) to[measure] = (to[measure] ?? 0) + toll[measure]
}
