import { Injectable } from '@nestjs/common'
import { attribute, median } from '@unvelt/core'
import type { PageSheet } from '@unvelt/contract'
import { notFound } from '../problem/problem.error.js'
import { ReadingRow } from '../reading/reading.model.js'
import { readingsOf } from '../reading/reading-store.js'
import { middleReading } from '../rule/prediction.service.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { PageRow, pageView } from './page.model.js'

/** All that one sweep knows of one page. */
@Injectable()
export class PageSheetService {
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
          payer: charge.payer,
          evidence: charge.evidence,
          because: charge.because,
        }
      }),
      consoleErrors: reading?.consoleErrors ?? [],
    }
  }
}
