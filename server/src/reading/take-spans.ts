import type { Sequelize } from 'sequelize'
import { serverTolls, timingOfSpans, weighFigures, type AttributionSources, type ServerTimingEntry } from '@unvelt/core'
import { countParts, spansOf } from '../trace/trace-store.js'
import { readDetail } from './reading-store.js'
import { ReadingRow } from './reading.model.js'

export interface TakenSpans {
  /** Of which something is known now that was not before. */
  variants: Set<string>
  /**
   * To be called once all that hangs on them has been worked out; until then a page that was broken off is found again. What came
   * meanwhile stays to be looked at.
   */
  settle(): Promise<void>
}

/** Takes what spans tell of the server over to the readings of a page that have none of their own. */
export async function takeSpans(
  sequelize: Sequelize,
  { sweepId, pageId }: { sweepId: number; pageId: number },
  sources: AttributionSources,
): Promise<TakenSpans> {
  const variants = new Set<string>()
  const rows = await ReadingRow.findAll({ where: { sweepId, pageId, spansWait: true } })
  const seen = new Map<string, number>()
  for (const row of rows) {
    const traceId = row.traceId!
    seen.set(row.id, await countParts(sequelize, traceId))
    const timing = timingOfSpans(await spansOf(sequelize, traceId))
    if (!timing) continue
    await row.update({ spanTiming: timing, ...sums(timing) })
    if (row.figures && (row.detail || row.detailIn !== null))
      await row.update({ figures: weighFigures(await readDetail(row), sources) })
    variants.add(row.variant)
  }
  const settle = async () => {
    for (const [id, parts] of seen)
      await sequelize.query(
        `update reading set spans_wait = false
         where id = $1 and (select count(*) from trace_part where trace_part.trace_id = reading.trace_id) = $2`,
        { bind: [id, parts] },
      )
  }
  return { variants, settle }
}

function sums(timing: ServerTimingEntry[]): { serverMs: number; queries: number; queryMs: number } {
  const tolls = [...serverTolls(timing)!.values()]
  const sum = (of: 'serverMs' | 'queries' | 'queryMs') => tolls.reduce((all, toll) => all + toll[of], 0)
  return { serverMs: sum('serverMs'), queries: sum('queries'), queryMs: sum('queryMs') }
}
