import { promisify } from 'node:util'
import { brotliCompress, brotliDecompress, constants, gunzip, gzip } from 'node:zlib'
import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import {
  areTimed,
  attribute,
  basisOf,
  MEASURES,
  middleRepeats,
  packBasis,
  pageGroups,
  PredictionPack,
  tolls,
  unpackBasis,
  type Attribution,
  type AttributionSources,
  type Dependencies,
  type Measure,
  type PackedBasis,
  type PageGroups,
  type PredictionBasis,
  type Reading,
} from '@unvelt/core'

const squeeze = promisify(gzip)
const unsqueeze = promisify(gunzip)
const squeezeBases = promisify(brotliCompress)
const unsqueezeBases = promisify(brotliDecompress)
/** Repeats of a page are much alike, and stand further apart than gzip looks back. */
const BROTLI = { params: { [constants.BROTLI_PARAM_QUALITY]: 5 } }

/** What decides what effects spare a page, by its repeats. */
export interface PageBases {
  /** Of those repeats that stand for a measure. */
  bases: PredictionBasis[]
  /** Which of them stands for each measure. */
  middle: Record<Measure, number>
}

/** All that predictions of a page are made from. */
export interface KeptPrediction extends PageBases {
  groups: PageGroups
}

/** What a page is spared by whatever is said of it, from its repeats; null where it has none. */
export function predictionOf(
  readings: readonly Reading[],
  sources: AttributionSources,
  attributions: readonly Attribution[] = readings.map((reading) => attribute(reading, sources)),
): KeptPrediction | null {
  if (readings.length === 0) return null
  const repeats = readings.map((reading, index) => tolls(reading, attributions[index]!))
  const chosen = middleRepeats(repeats, areTimed(readings))
  const standing = [...new Set(Object.values(chosen))]
  const bases = standing.map((index) => basisOf(readings[index]!, attributions[index]!))
  const middle = Object.fromEntries(
    MEASURES.map((measure) => [measure, standing.indexOf(chosen[measure])]),
  ) as PageBases['middle']
  return { bases, middle, groups: pageGroups(bases, middle) }
}

/** Keeps what a page's predictions are made from; with none, what was kept is forgotten. */
export async function storePrediction(
  sequelize: Sequelize,
  { sweepId, pageId }: { sweepId: number; pageId: number },
  kept: KeptPrediction | null,
  transaction: Transaction | null = null,
): Promise<void> {
  if (kept === null) {
    await sequelize.query('delete from prediction_groups where sweep_id = $1 and page_id = $2', {
      bind: [sweepId, pageId],
      transaction,
    })
    return
  }
  const [groups, bases] = await Promise.all([squeeze(JSON.stringify(kept.groups)), packedBases(kept)])
  await sequelize.query(
    `insert into prediction_groups (sweep_id, page_id, packed, bases) values ($1, $2, $3, $4)
     on conflict (sweep_id, page_id) do update set packed = excluded.packed, bases = excluded.bases, made_at = clock_timestamp()`,
    { bind: [sweepId, pageId, groups, bases], type: QueryTypes.INSERT, transaction },
  )
}

const packedBases = ({ bases, middle }: PageBases) =>
  squeezeBases(JSON.stringify([MEASURES.map((measure) => middle[measure]), ...bases.map(packBasis)]), BROTLI)

async function unpackedBases(packed: Buffer): Promise<PageBases> {
  const text = (await unsqueezeBases(packed)).toString('utf8')
  const [middle, ...bases] = JSON.parse(text) as [number[], ...PackedBasis[]]
  return {
    bases: bases.map(unpackBasis),
    middle: Object.fromEntries(MEASURES.map((measure, n) => [measure, middle[n]!])) as PageBases['middle'],
  }
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

/** When what is kept of each page was made; null where an earlier version made it, which kept no bases. */
export async function basesMade(sequelize: Sequelize, sweepId: number): Promise<Map<number, string | null>> {
  const rows = await sequelize.query<{ pageId: number; made: string | null }>(
    `select page_id "pageId", case when bases is not null then made_at::text end "made" from prediction_groups where sweep_id = $1`,
    { bind: [sweepId], type: QueryTypes.SELECT },
  )
  return new Map(rows.map(({ pageId, made }) => [pageId, made]))
}

/** Of pages that have them. */
export async function basesOf(
  sequelize: Sequelize,
  sweepId: number,
  pageIds: readonly number[],
): Promise<Map<number, PageBases>> {
  const rows = await sequelize.query<{ pageId: number; bases: Buffer }>(
    `select page_id "pageId", bases from prediction_groups where sweep_id = $1 and page_id = any($2) and bases is not null`,
    { bind: [sweepId, [...pageIds]], type: QueryTypes.SELECT },
  )
  return new Map(
    await Promise.all(rows.map(async ({ pageId, bases }) => [pageId, await unpackedBases(bases)] as const)),
  )
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
    for (const { pageId, packed } of rows)
      pack.add(pageId, JSON.parse((await unsqueeze(packed)).toString('utf8')) as PageGroups)
    if (rows.length < AT_A_TIME) return pack
    after = rows.at(-1)!.pageId
  }
}
