import { QueryTypes, type Sequelize, type Transaction } from 'sequelize'
import {
  fileNames,
  isUnnamed,
  latePaint,
  ruleFileName,
  type Attribution,
  type AttributionSources,
  type LatePaint,
  type Reading,
} from '@unvelt/core'

/** A late largest paint, with who pays for the picture and how rules name its file. */
export interface NamedLatePaint extends LatePaint {
  payer: string
  file: string
}

/** @param attributions Of each of the readings. */
export function latePaintOf(
  readings: readonly Reading[],
  attributions: readonly Attribution[],
  { ownHosts }: Pick<AttributionSources, 'ownHosts'>,
): NamedLatePaint | null {
  const late = latePaint(readings)
  if (!late) return null
  const n = readings.findIndex(({ requests }) => requests.some(({ url }) => url === late.url))
  const request = readings[n]!.requests.find(({ url }) => url === late.url)!
  const { payer } = attributions[n]!.requests.get(request.id)!
  const url = new URL(late.url)
  const [whole, withQuery] = fileNames(url, ownHosts.includes(url.host))
  // A link announces just what is asked for later, or it comes twice; a tag is known by the path alone.
  const isHere = url.host === new URL(readings[n]!.finalUrl).host
  const announced = (isHere ? withQuery : undefined) ?? whole!
  return { ...late, payer, file: isUnnamed(late.because) ? announced : ruleFileName(url, ownHosts.includes(url.host)) }
}

/** Keeps it in the place of what was known of the page in that sweep. */
export async function storeLatePaint(
  sequelize: Sequelize,
  { sweepId, pageId }: { sweepId: number; pageId: number },
  late: NamedLatePaint | null,
  transaction: Transaction,
): Promise<void> {
  const bind = [sweepId, pageId]
  await sequelize.query('delete from late_paint where sweep_id = $1 and page_id = $2', { bind, transaction })
  if (!late) return
  const { url, payer, file, because, couldMs, askedMs, paintedMs } = late
  await sequelize.query(
    `insert into late_paint (sweep_id, page_id, url, payer, file, because, could_ms, asked_ms, painted_ms)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
    { bind: [...bind, url, payer, file, because, couldMs, askedMs, paintedMs], type: QueryTypes.INSERT, transaction },
  )
}
