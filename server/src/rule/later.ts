import { setImmediate } from 'node:timers/promises'
import type { Sequelize } from 'sequelize'
import { MEASURES, predictFrom, sumTolls, type Dependencies, type PredictWith, type ResolvedEffect } from '@unvelt/core'
import { Once } from '../kept/once.js'
import { lighterBy } from '../made-copy/lighter-by.js'
import { readingsOf } from '../reading/reading-store.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { basesMade, basesOf, predictionOf, storePrediction, type PageBases } from '../toll/prediction-store.js'
import { apartFrom, said } from './apart-effects.js'

/** What a page is spared by effects some of which no sum over groups tells. */
export interface Later {
  saved: Record<string, number>
  /** What only comes later. */
  postponed: Record<string, number>
  outOfReach: [payer: string, url: string, because: string][]
}

/** Of one page, and when that was made which it was worked out from. */
interface Known {
  made: string
  later: Later
}

const AT_A_TIME = 50
const MOST_KNOWN = 50_000

/** Works out what effects postpone, and what those on single files spare, from what is kept of each page; and remembers it. */
export class LaterOfPages {
  /** What was worked out last, by what it was worked out for. */
  private readonly known = new Map<string, Map<number, Known>>()
  private size = 0
  private readonly once = new Once()

  constructor(private readonly sequelize: Sequelize) {}

  /** @param pageIds Pages that the sweep has read, on which the effects are the same. */
  of(
    sweep: SweepRow,
    pageIds: readonly number[],
    effects: readonly ResolvedEffect[],
    dependencies: Dependencies,
  ): Promise<Map<number, Later>> {
    const key = `${sweep.id} ${effects.map(said).join(' ')} ${JSON.stringify(dependencies)}`
    return this.once.run(`${key} ${pageIds.join()}`, async () => {
      await this.makeUp(sweep, pageIds)
      const made = await basesMade(this.sequelize, sweep.id)
      const known = this.lastUsed(key)
      const due = pageIds.filter((id) => made.get(id) && known.get(id)?.made !== made.get(id))
      const madeCopies = due.length > 0 ? await lighterBy(sweep.siteId, effects) : {}
      for (let n = 0; n < due.length; n += AT_A_TIME) {
        const bases = await basesOf(this.sequelize, sweep.id, due.slice(n, n + AT_A_TIME))
        for (const [id, page] of bases) {
          if (!known.has(id)) this.size++
          known.set(id, { made: made.get(id)!, later: laterOn(page, effects, dependencies, { madeCopies }) })
          // Others that wait for an answer have their turn in between.
          await setImmediate()
        }
      }
      this.forget(key)
      return new Map(pageIds.flatMap((id) => (known.has(id) ? [[id, known.get(id)!.later]] : [])))
    })
  }

  /** What pages that an earlier version read have no bases of is made from their readings, once. */
  private async makeUp(sweep: SweepRow, pageIds: readonly number[]): Promise<void> {
    const made = await basesMade(this.sequelize, sweep.id)
    for (const pageId of pageIds) {
      if (made.get(pageId)) continue
      const kept = predictionOf(await readingsOf(sweep.id, pageId, 'live'), sweep.sources)
      if (kept) await storePrediction(this.sequelize, { sweepId: sweep.id, pageId }, kept)
    }
  }

  private lastUsed(key: string): Map<number, Known> {
    const known = this.known.get(key) ?? new Map<number, Known>()
    this.known.delete(key)
    this.known.set(key, known)
    return known
  }

  private forget(butFor: string): void {
    for (const [key, { size }] of this.known) {
      if (this.size <= MOST_KNOWN) return
      if (key === butFor) continue
      this.known.delete(key)
      this.size -= size
    }
  }
}

/** Each measure from the repeat that the ledger shows. */
function laterOn(
  { bases, middle }: PageBases,
  effects: readonly ResolvedEffect[],
  dependencies: Dependencies,
  known: PredictWith,
): Later {
  const later: Later = { saved: {}, postponed: {}, outOfReach: [] }
  const predictions = bases.map((basis) => predictFrom(basis, effects, dependencies, known))
  for (const measure of MEASURES) {
    const { saved: spared, postponed, added } = predictions[middle[measure]]!
    later.saved[measure] = sumTolls(spared)[measure] - sumTolls(added)[measure]
    later.postponed[measure] = sumTolls(postponed)[measure]
  }
  // What whole add-ons leave behind is told by the groups already.
  const apart = new Set(apartFrom(effects).map(({ addon }) => addon))
  for (const { payer, url, because } of predictions[middle.transferBytes]!.outOfReach)
    if (apart.has(payer)) later.outOfReach.push([payer, url, because])
  return later
}
