import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import { thingsToFind } from '../culprit/searches-for.js'
import { RehearsalPageRow, type RehearsalRow, type RehearsedReading } from './rehearsal.model.js'

/** Whether all of a round was read and nothing fails that nobody has accepted; then later ones are held against it. */
export async function isAsItShouldBe(round: RehearsalRow): Promise<boolean> {
  const unread = await RehearsalPageRow.count({ where: { rehearsalId: round.id, state: ['waiting', 'failed'] } })
  return unread === 0 && (await thingsToFind(round)).length === 0
}

export interface SeenBefore {
  rehearsalId: number
  pageId: number
  lensId: number
  readings: RehearsedReading[]
}

/** Of each page under each lens what the newest sound round saw of it. */
export async function seenBefore(sequelize: Sequelize, siteId: number): Promise<Map<string, SeenBefore>> {
  const rows = await sequelize.query<SeenBefore>(
    `select distinct on (page_id, lens_id)
       rehearsal_id "rehearsalId", page_id "pageId", lens_id "lensId", readings
     from rehearsal join rehearsal_page on rehearsal_id = rehearsal.id
     where site_id = $1 and is_round and sound and rehearsal_page.state = 'done'
     order by page_id, lens_id, rehearsal.id desc`,
    { bind: [siteId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map((row) => [`${row.pageId} ${row.lensId}`, row]))
}

/** What a round before saw as it is now is what this one is held against. */
export function asBefore(seen: SeenBefore | undefined): RehearsedReading[] {
  return (seen?.readings ?? [])
    .filter(({ side }) => side === 'with')
    .map((reading, turn) => ({ ...reading, side: 'without', turn, stayed: [] }))
}

/** Its pictures go with it, so that both stay together. */
export async function copyPictures(
  sequelize: Sequelize,
  round: number,
  { rehearsalId, pageId, lensId, readings }: SeenBefore,
  transaction: Transaction,
): Promise<void> {
  const turns = readings.filter(({ side }) => side === 'with').map(({ turn }) => turn)
  await sequelize.query(
    `insert into rehearsal_picture (rehearsal_id, page_id, lens_id, turn, step, moment, bytes_id, width, height)
     select $1, page_id, lens_id, array_position($5::int[], turn) - 1, step, moment, bytes_id, width, height
     from rehearsal_picture
     where rehearsal_id = $2 and page_id = $3 and lens_id = $4 and step = '' and turn = any($5::int[])`,
    { bind: [round, rehearsalId, pageId, lensId, turns], transaction },
  )
}
