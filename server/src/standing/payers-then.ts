import { QueryTypes, type Sequelize } from 'sequelize'
import type { PayerThen } from '@unvelt/core'
import { keptView } from '../kept/kept-view.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/** What a payer costs, added up over pages. */
export type PayerFigures = Omit<PayerThen, 'name'>

interface BothPayers {
  before: PayerFigures[]
  after: PayerFigures[]
}

/** What each payer cost in two sweeps, over the pages that both have read. Added up once for the two. */
export async function payersThen(sequelize: Sequelize, then: SweepRow, now: SweepRow): Promise<BothPayers> {
  const make = async () => ({
    before: await payersOf(sequelize, then.id, [then.id, now.id]),
    after: await payersOf(sequelize, now.id, [then.id, now.id]),
  })
  const { basis } = await basisOf(sequelize, then.id)
  return keptView(sequelize, now, 'payers-then', make, `${then.id} ${basis}`)
}

/** What the figures of a sweep hang on, beside its number. */
async function basisOf(sequelize: Sequelize, sweepId: number): Promise<{ basis: string }> {
  const [row] = await sequelize.query<{ basis: string }>(
    `select concat_ws(' ', md5(sources::text), recomputing,
       (select count(*) from reading where sweep_id = :sweepId)) basis from sweep where id = :sweepId`,
    { replacements: { sweepId }, type: QueryTypes.SELECT },
  )
  return row!
}

function payersOf(sequelize: Sequelize, sweepId: number, both: [number, number]): Promise<PayerFigures[]> {
  return sequelize.query<PayerFigures>(
    `select payer slug, sum(requests)::float8 requests, sum(transfer_bytes)::float8 "transferBytes", sum(server_ms) "serverMs"
     from toll where sweep_id = :sweepId and variant = 'live' and page_id in (
       select page_id from toll where sweep_id = :then and variant = 'live'
       intersect select page_id from toll where sweep_id = :now and variant = 'live')
     group by payer`,
    { replacements: { sweepId, then: both[0], now: both[1] }, type: QueryTypes.SELECT },
  )
}
