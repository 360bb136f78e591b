import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import {
  areTimed,
  attribute,
  middleRepeats,
  pageGroups,
  tolls,
  type Attribution,
  type AttributionSources,
  type PageGroups,
  type Reading,
} from '@unvelt/core'

const squeeze = promisify(gzip)
const unsqueeze = promisify(gunzip)

/** What a page is spared by whichever payers go, from its repeats; null where it has none. */
export function groupsOf(
  readings: readonly Reading[],
  sources: AttributionSources,
  attributions: readonly Attribution[] = readings.map((reading) => attribute(reading, sources)),
): PageGroups | null {
  if (readings.length === 0) return null
  const repeats = readings.map((reading, index) => tolls(reading, attributions[index]!))
  return pageGroups(readings, attributions, middleRepeats(repeats, areTimed(readings)))
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
     on conflict (sweep_id, page_id) do update set packed = excluded.packed`,
    { bind: [sweepId, pageId, await squeeze(JSON.stringify(groups))], type: QueryTypes.INSERT, transaction },
  )
}

/** The groups that are kept of pages of a sweep. */
export async function keptGroups(
  sequelize: Sequelize,
  sweepId: number,
  pageIds: readonly number[],
): Promise<Map<number, PageGroups>> {
  const rows = await sequelize.query<{ pageId: number; packed: Buffer }>(
    'select page_id "pageId", packed from prediction_groups where sweep_id = $1 and page_id = any($2)',
    { bind: [sweepId, pageIds], type: QueryTypes.SELECT },
  )
  const unpacked = await Promise.all(
    rows.map(
      async ({ pageId, packed }) =>
        [pageId, JSON.parse((await unsqueeze(packed)).toString('utf8')) as PageGroups] as const,
    ),
  )
  return new Map(unpacked)
}
