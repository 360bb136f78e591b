import { setImmediate } from 'node:timers/promises'
import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import {
  areTimed,
  attribute,
  basisOf,
  middleRepeats,
  pageGroups,
  PredictionPack,
  tolls,
  type Attribution,
  type AttributionSources,
  type Dependencies,
  type PageGroups,
  type Reading,
} from '@unvelt/core'

const squeeze = promisify(gzip)
const unsqueeze = promisify(gunzip)

/** What a page is spared by whatever is said of it, from its repeats; null where it has none. */
export function groupsOf(
  readings: readonly Reading[],
  sources: AttributionSources,
  attributions: readonly Attribution[] = readings.map((reading) => attribute(reading, sources)),
): PageGroups | null {
  if (readings.length === 0) return null
  const repeats = readings.map((reading, index) => tolls(reading, attributions[index]!))
  const bases = readings.map((reading, index) => basisOf(reading, attributions[index]!))
  return pageGroups(bases, middleRepeats(repeats, areTimed(readings)))
}

/** Keeps a page's groups; with none, those that were kept are forgotten. */
export async function storeGroups(
  sequelize: Sequelize,
  { sweepId, pageId }: { sweepId: number; pageId: number },
  groups: PageGroups | null,
  transaction: Transaction | null = null,
): Promise<void> {
  if (groups === null) {
    await sequelize.query('delete from prediction_groups where sweep_id = $1 and page_id = $2', {
      bind: [sweepId, pageId],
      transaction,
    })
    return
  }
  await sequelize.query(
    `insert into prediction_groups (sweep_id, page_id, packed) values ($1, $2, $3)
     on conflict (sweep_id, page_id) do update set packed = excluded.packed, made_at = clock_timestamp()`,
    { bind: [sweepId, pageId, await squeeze(JSON.stringify(groups))], type: QueryTypes.INSERT, transaction },
  )
}

/** Tells the groups that are kept of a sweep from any that were kept before. */
export async function groupsStamp(sequelize: Sequelize, sweepId: number): Promise<string> {
  const [row] = await sequelize.query<{ stamp: string }>(
    `select count(*) || ' ' || coalesce(extract(epoch from max(made_at)), 0) "stamp" from prediction_groups where sweep_id = $1`,
    { bind: [sweepId], type: QueryTypes.SELECT },
  )
  return row!.stamp
}

export async function pagesWithGroups(sequelize: Sequelize, sweepId: number): Promise<Set<number>> {
  const rows = await sequelize.query<{ pageId: number }>(
    'select page_id "pageId" from prediction_groups where sweep_id = $1',
    { bind: [sweepId], type: QueryTypes.SELECT },
  )
  return new Set(rows.map(({ pageId }) => pageId))
}

const AT_A_TIME = 100

/** All groups of a sweep for summing. They are unpacked some pages at a time, so that memory goes with what is kept of them. */
export async function predictionPack(
  sequelize: Sequelize,
  sweepId: number,
  dependencies: Dependencies,
): Promise<PredictionPack> {
  const pack = new PredictionPack([], dependencies)
  for (let after = 0; ;) {
    const rows = await sequelize.query<{ pageId: number; packed: Buffer }>(
      `select page_id "pageId", packed from prediction_groups where sweep_id = $1 and page_id > $2 order by page_id limit ${AT_A_TIME}`,
      { bind: [sweepId, after], type: QueryTypes.SELECT },
    )
    const texts = await Promise.all(rows.map(({ packed }) => unsqueeze(packed)))
    for (const [n, text] of texts.entries()) {
      pack.add(rows[n]!.pageId, JSON.parse(text.toString('utf8')) as PageGroups)
      // Others that wait for an answer have their turn in between.
      if (n % 10 === 9) await setImmediate()
    }
    if (rows.length < AT_A_TIME) return pack
    after = rows.at(-1)!.pageId
  }
}
