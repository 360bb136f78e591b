import type { Sequelize } from 'sequelize'
import { serverTolls, timingOfSpans, weighFigures, type AttributionSources, type ServerTimingEntry } from '@unvelt/core'
import { spansOf } from '../trace/trace-store.js'
import { readDetail } from './reading-store.js'
import { ReadingRow } from './reading.model.js'

/**
 * Takes what spans tell of the server over to the readings of a page that have none of their own.
 * @returns variants of which something is known now that was not before
 */
export async function takeSpans(
  sequelize: Sequelize,
  { sweepId, pageId }: { sweepId: number; pageId: number },
  sources: AttributionSources,
): Promise<Set<string>> {
  const variants = new Set<string>()
  for (const row of await ReadingRow.findAll({ where: { sweepId, pageId, spansWait: true } })) {
    // Before they are looked at: what comes meanwhile is noted anew.
    await row.update({ spansWait: false })
    const timing = row.traceId === null ? null : timingOfSpans(await spansOf(sequelize, row.traceId))
    if (!timing) continue
    await row.update({ spanTiming: timing, ...sums(timing) })
    if (row.figures && (row.detail || row.detailIn !== null))
      await row.update({ figures: weighFigures(await readDetail(row), sources) })
    variants.add(row.variant)
  }
  return variants
}

function sums(timing: ServerTimingEntry[]): { serverMs: number; queries: number; queryMs: number } {
  const tolls = [...serverTolls(timing)!.values()]
  const sum = (of: 'serverMs' | 'queries' | 'queryMs') => tolls.reduce((all, toll) => all + toll[of], 0)
  return { serverMs: sum('serverMs'), queries: sum('queries'), queryMs: sum('queryMs') }
}
