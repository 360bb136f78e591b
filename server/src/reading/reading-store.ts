import { Op, QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import {
  areTimed,
  attribute,
  attributeWithSteps,
  fileTolls,
  freshOnes,
  inHtmlAlone,
  isOutsider,
  isOwnFolder,
  MEASURES,
  middleByBytes,
  middleRepeats,
  outsiderPayer,
  ownFolderPayer,
  pageTolls,
  readingTotals,
  seenInUse,
  sumTolls,
  tellsServer,
  tolls,
  weighFigures,
  withKnownCallers,
  withKnownUse,
  type AttributionSources,
  type Reading,
  type Seen,
  type ServerTimingEntry,
  type Toll,
} from '@unvelt/core'
import { dropPack } from '../toll/pack-store.js'
import { groupsOf, storeGroups } from '../toll/prediction-groups-store.js'
import { latePaintOf, storeLatePaint } from '../toll/late-paint-store.js'
import { nameFiles, pageFiles, storePageFiles } from '../toll/page-file-store.js'
import { storeSeen } from '../use/use-store.js'
import { usedFiles } from '../idle/file-use-store.js'
import { AddOnRow, NO_ADD_ON } from '../add-on/add-on.model.js'
import { markSpans } from './mark-spans.js'
import { packRepeats } from './pack-repeats.js'
import { packReadings, unpackReadings } from './reading-pack.js'
import { ReadingRow } from './reading.model.js'

const NOT_MEASURED = {
  fileUse: [],
  mainThread: [],
  fonts: [],
  traceId: null,
  steps: [],
  laterUse: [],
  companions: [],
  elementMakers: [],
}

/** Where in a sweep a reading belongs. A place is filled once. */
export interface ReadingPlace {
  sweepId: number
  pageId: number
  variant: string
  repeat: number
}

export async function isRead(place: ReadingPlace): Promise<boolean> {
  return (await ReadingRow.count({ where: { ...place } })) > 0
}

/** How many good readings there are of a page. */
export const countReadings = (place: Omit<ReadingPlace, 'repeat'>): Promise<number> =>
  ReadingRow.count({ where: { ...place, failure: null } })

/** Whether a page was read before, by whatever repeat. */
export const hasReading = async (place: Omit<ReadingPlace, 'repeat'>): Promise<boolean> =>
  (await countReadings(place)) > 0

/** Stores a reading. If another worker was first, its reading stands and this one is dropped. */
export async function storeReading(
  place: ReadingPlace,
  reading: Reading,
  sources: AttributionSources,
  /** Whether its times count; where others give them, they do not. Whether it is one of variants that are compared. */
  { timed, weighed = false }: { timed: boolean; weighed?: boolean } = { timed: true },
): Promise<void> {
  const sum = sumTolls(tolls(reading, attribute(reading, sources)))
  const knowsServer = tellsServer(reading.serverTiming)
  await ReadingRow.bulkCreate(
    [
      {
        ...place,
        failure: null,
        ...readingTotals(reading),
        serverMs: knowsServer ? sum.serverMs : null,
        queries: knowsServer ? sum.queries : null,
        queryMs: knowsServer ? sum.queryMs : null,
        loadMs: timed ? reading.timings.load : null,
        figures: weighed ? weighFigures(reading, sources) : null,
        detail: await packReadings(new Map([[place.repeat, JSON.stringify(reading)]])),
        traceId: reading.traceId,
      },
    ],
    { ignoreDuplicates: true },
  )
  // Its spans may have come before it.
  if (reading.traceId && !knowsServer) await markSpans(ReadingRow.sequelize!, [reading.traceId])
}

/** Stores that a reading failed, and why. */
export async function storeFailure(place: ReadingPlace, failure: string): Promise<void> {
  await ReadingRow.bulkCreate(
    [
      {
        ...place,
        failure,
        requests: null,
        transferBytes: null,
        decodedBytes: null,
        serverMs: null,
        queries: null,
        queryMs: null,
        loadMs: null,
        detail: null,
      },
    ],
    { ignoreDuplicates: true },
  )
}

/** @throws Error where nothing is kept of it any more */
export async function readDetail(row: ReadingRow): Promise<Reading> {
  // A repeat that came in late may take over the pack in between.
  const reading = (await keptIn(row)) ?? (await keptIn(await row.reload()))
  if (!reading) throw new Error(`Nothing is kept of reading ${row.id}.`)
  return withSpans(asOfToday(reading), row.spanTiming)
}

async function keptIn(row: ReadingRow): Promise<Reading | undefined> {
  const { sweepId, pageId, variant, repeat, detailIn } = row
  const holder =
    detailIn === null ? row : await ReadingRow.findOne({ where: { sweepId, pageId, variant, repeat: detailIn } })
  return holder?.detail ? (await unpackReadings(holder.detail, holder.repeat)).get(repeat) : undefined
}

/** Readings of earlier versions know nothing of what came to be measured later. */
const asOfToday = (reading: Reading): Reading => ({ ...NOT_MEASURED, ...reading })

/** Where the page itself said nothing of the server's work, its spans are believed. */
const withSpans = (reading: Reading, timing: ServerTimingEntry[] | null | undefined): Reading =>
  timing && !tellsServer(reading.serverTiming)
    ? { ...reading, serverTiming: [...reading.serverTiming, ...timing], serverBySpans: true }
    : reading

/** The readings of a page in a sweep that stand, in the order of their repeats: made afresh, if any was. */
export async function readingsOf(sweepId: number, pageId: number, variant: string): Promise<Reading[]> {
  return freshOnes(await allReadingsOf(sweepId, pageId, variant))
}

/** The successful readings, copies that a cache had kept among them. */
export async function allReadingsOf(sweepId: number, pageId: number, variant: string): Promise<Reading[]> {
  const rows = await ReadingRow.findAll({
    // Of older sweeps only figures are kept; one row may hold what is kept of all.
    where: { sweepId, pageId, variant, failure: null, detail: { [Op.ne]: null } },
    attributes: ['repeat', 'detail'],
  })
  const packs = await Promise.all(rows.map(({ detail, repeat }) => unpackReadings(detail!, repeat)))
  const byRepeat = packs.flatMap((pack) => [...pack]).sort(([a], [b]) => a - b)
  const traced = await ReadingRow.findAll({
    where: { sweepId, pageId, variant, spanTiming: { [Op.ne]: null } },
    attributes: ['repeat', 'spanTiming'],
  })
  const timings = new Map(traced.map(({ repeat, spanTiming }) => [repeat, spanTiming]))
  const whole = byRepeat.map(([repeat, reading]) => withSpans(asOfToday(reading), timings.get(repeat)))
  return withKnownCallers(withKnownUse(whole))
}

/** Works out the page's tolls over its repeats and keeps them as plain rows. Returns whether there was a reading. */
export async function storeTolls(
  sequelize: Sequelize,
  siteId: number,
  { sweepId, pageId, variant }: Omit<ReadingPlace, 'repeat'>,
  sources: AttributionSources,
): Promise<boolean> {
  const readings = await readingsOf(sweepId, pageId, variant)
  const attributions = readings.map((reading) => attribute(reading, sources))
  const repeats = readings.map((reading, index) => tolls(reading, attributions[index]!))
  const timed = areTimed(readings)
  // What was read beside other loads tells no times, however long it took.
  const hasTimes = readings.some(({ untimed }) => !untimed)
  const rows = pageTolls(repeats, timed).map((row) => (hasTimes ? row : { ...row, ...NO_TIMES }))
  /** Bytes of files from the repeat with the middle number of them, their times from the one that gives the page's. */
  const middleFiles = () => {
    const middle = middleByBytes(readings)
    if (!middle) return []
    const attribution = attributions[readings.indexOf(middle)]!
    const clock = middleRepeats(repeats, timed).mainThreadMs
    const clocked = { reading: readings[clock]!, attribution: attributions[clock]! }
    const costs = fileTolls(middle, attribution, clocked)
    return pageFiles(costs, usedFiles(readings, sources), inHtmlAlone(middle, attribution))
  }
  const files = variant === 'live' ? middleFiles() : []
  await nameFiles(sequelize, siteId, files)
  await sequelize.transaction(async (transaction) => {
    await sequelize.query('delete from toll where sweep_id = :sweepId and page_id = :pageId and variant = :variant', {
      replacements: { sweepId, pageId, variant },
      transaction,
    })
    await dropPack(sequelize, sweepId, transaction)
    await sequelize.query('update sweep_page set timed = :hasTimes where sweep_id = :sweepId and page_id = :pageId', {
      replacements: { sweepId, pageId, hasTimes: hasTimes || readings.length === 0 },
      transaction,
    })
    if (variant === 'live') {
      const place = { siteId, sweepId, pageId }
      await storePageFiles(sequelize, place, files, transaction)
      await storeLatePaint(sequelize, place, latePaintOf(readings, attributions, sources), transaction)
      await storeSeen(sequelize, place, seenOnPage(readings, sources), transaction)
      await storeGroups(sequelize, place, groupsOf(readings, sources, attributions), transaction)
    }
    if (rows.length === 0) return
    await sequelize.query(
      `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, idle_bytes, main_thread_ms, server_ms, queries, query_ms)
       select $1, $2, $3, * from unnest($4::text[], $5::int[], $6::bigint[], $7::bigint[], $8::bigint[], $9::float8[], $10::float8[], $11::int[], $12::float8[])`,
      {
        bind: [sweepId, pageId, variant, rows.map((row) => row.payer), ...columns(rows)],
        type: QueryTypes.INSERT,
        transaction,
      },
    )
    await storeNewEntries(siteId, rows, transaction)
  })
  await packRepeats(sequelize, { sweepId, pageId, variant })
  return readings.length > 0
}

const NO_TIMES = { mainThreadMs: 0, serverMs: 0, queryMs: 0 }

/** Signs of use are looked for in the repeat that took the steps, and where none did, in the first. */
function seenOnPage(readings: readonly Reading[], sources: AttributionSources): Seen[] {
  const reading = readings.find(({ steps }) => steps.length > 0) ?? readings[0]
  return reading ? seenInUse(reading, attributeWithSteps(reading, sources)) : []
}

const columns = (rows: Toll[]) => MEASURES.map((measure) => rows.map((row) => row[measure]))

/** An outsider that nobody announced, and a folder of code that nobody named, become entries of the inventory. */
async function storeNewEntries(siteId: number, rows: Toll[], transaction: Transaction): Promise<void> {
  const after = (payer: string, prefix: string) => payer.slice(prefix.length)
  // In one order always, so that two pages that are stored at once wait for each other and never both.
  const inOrder = [...rows].sort((a, b) => (a.payer < b.payer ? -1 : 1))
  await AddOnRow.bulkCreate(
    inOrder.flatMap(({ payer }) => {
      const entry = { ...NO_ADD_ON, siteId, slug: payer, source: 'reading' as const }
      if (isOutsider(payer)) {
        const domain = after(payer, outsiderPayer(''))
        const summary = 'Found by a reading; the site did not announce it.'
        return [{ ...entry, kind: 'outside script', name: domain, summary, outsideHosts: [domain] }]
      }
      if (!isOwnFolder(payer)) return []
      const folder = after(payer, ownFolderPayer(''))
      const summary = `Found by a reading: code of the site’s own at ${folder}. Nobody has said what it is.`
      return [{ ...entry, kind: 'plugin', name: folder, summary }]
    }),
    { ignoreDuplicates: true, transaction },
  )
}
