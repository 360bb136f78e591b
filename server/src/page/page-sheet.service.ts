import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import {
  attribute,
  idleByRequest,
  median,
  peakMemory,
  queryGroups,
  serverSteps,
  waitSplit,
  type Reading,
} from '@unvelt/core'
import type { PageSheet, ServerWork } from '@unvelt/contract'
import { notFound } from '../problem/problem.error.js'
import { ReadingRow } from '../reading/reading.model.js'
import { readingsOf } from '../reading/reading-store.js'
import { middleReading } from '../rule/prediction.service.js'
import { spansOf } from '../trace/trace-store.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { PageRow, pageView } from './page.model.js'

/** All that one sweep knows of one page. */
@Injectable()
export class PageSheetService {
  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  async sheet(page: PageRow, sweep: SweepRow): Promise<PageSheet> {
    const variant = sweep.purpose === 'survey' ? 'live' : 'after'
    const readings = await readingsOf(sweep.id, page.id, variant)
    const failures = await ReadingRow.findAll({
      where: { sweepId: sweep.id, pageId: page.id, variant },
      attributes: ['failure'],
    })
    const reasons = failures.flatMap((row) => row.failure ?? [])
    const reading = await middleReading(sweep, page.id, variant)
    if (!reading && reasons.length === 0) throw notFound('reading of this page')
    const attribution = reading && attribute(reading, sweep.sources)
    const idle = reading ? idleByRequest(reading) : new Map<string, number>()
    const timeOf = reading ? timeByUrl(reading) : new Map<string, number>()
    const names = reading ? (Object.keys(reading.timings) as (keyof typeof reading.timings)[]) : []
    return {
      page: pageView(page),
      sweepId: sweep.id,
      repeats: readings.length,
      failedRepeats: reasons.length,
      failures: [...new Set(reasons)],
      timings: Object.fromEntries(
        names.map((name) => {
          const known = readings.flatMap((r) => r.timings[name] ?? [])
          return [name, known.length > 0 ? median(known) : null]
        }),
      ),
      middleLoadMs: reading?.timings.load ?? null,
      domElements: reading?.domElements ?? 0,
      requests: (reading?.requests ?? []).map((request) => {
        const charge = attribution!.requests.get(request.id)!
        const { id, url, type, status, startedMs, endedMs, transferBytes, decodedBytes } = request
        return {
          id,
          url,
          type,
          status,
          failure: request.failure ?? null,
          startedMs,
          endedMs,
          transferBytes,
          decodedBytes,
          idleBytes: idle.get(id) ?? null,
          mainThreadMs: takeOnce(timeOf, url),
          payer: charge.payer,
          evidence: charge.evidence,
          because: charge.because,
        }
      }),
      consoleErrors: reading?.consoleErrors ?? [],
      server: reading?.traceId ? await this.serverWork(reading.traceId) : null,
      wait: reading ? waitSplit(reading, attribution!) : null,
      fonts: reading?.fonts ?? [],
    }
  }

  private async serverWork(traceId: string): Promise<ServerWork | null> {
    const spans = await spansOf(this.sequelize, traceId)
    if (spans.length === 0) return null
    return {
      spans: spans.length,
      steps: serverSteps(spans),
      queries: queryGroups(spans),
      peakMemoryBytes: peakMemory(spans),
    }
  }
}

function timeByUrl(reading: Reading): Map<string, number> {
  const times = new Map<string, number>()
  for (const { url, ms } of reading.mainThread) times.set(url, (times.get(url) ?? 0) + ms)
  return times
}

/** A file that was asked for twice has its time with the first request. */
function takeOnce(times: Map<string, number>, url: string): number {
  const ms = times.get(url) ?? 0
  times.delete(url)
  return ms
}
