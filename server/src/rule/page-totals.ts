import { QueryTypes, type Sequelize } from 'sequelize'
import { MEASURES } from '@unvelt/core'
import { groupsStamp } from '../toll/prediction-groups-store.js'

type Totals = Map<number, Record<string, number>>

const MOST_SWEEPS = 3

/** What each page of a sweep costs, in each measure; of the sweeps that were asked last it is remembered. */
export class PageTotals {
  private readonly kept = new Map<string, Totals>()

  constructor(private readonly sequelize: Sequelize) {}

  async of(sweepId: number): Promise<Totals> {
    // Tolls are written with the groups, and never without them.
    const key = `${sweepId} ${await groupsStamp(this.sequelize, sweepId)}`
    const totals = this.kept.get(key) ?? (await this.sums(sweepId))
    this.kept.delete(key)
    this.kept.set(key, totals)
    const [oldest] = this.kept.keys()
    if (this.kept.size > MOST_SWEEPS) this.kept.delete(oldest!)
    return totals
  }

  private async sums(sweepId: number): Promise<Totals> {
    const columns = MEASURES.map(
      (measure) => `sum(${measure.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`)})::float8 "${measure}"`,
    )
    const rows = await this.sequelize.query<{ pageId: number } & Record<string, number>>(
      `select page_id "pageId", ${columns.join(', ')} from toll where sweep_id = $1 and variant = 'live' group by page_id`,
      { bind: [sweepId], type: QueryTypes.SELECT },
    )
    return new Map(rows.map(({ pageId, ...row }) => [pageId, row as Record<string, number>]))
  }
}
