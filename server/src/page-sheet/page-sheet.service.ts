import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import {
  areTimed,
  attribute,
  attributeWithSteps,
  CONTENT,
  inlineIdle,
  inlineNeededLater,
  cacheLife,
  freshOnes,
  keptPage,
  compression,
  elementsByPayer,
  idleByRequest,
  median,
  middleRepeats,
  neededLater,
  peakMemory,
  queryGroups,
  repeatability,
  serverSteps,
  witnessDifferences,
  timedOnes,
  tolls,
  waitSplit,
  type AttributionSources,
  type Reading,
} from '@unvelt/core'
import type { PageSheet, ServerWork } from '@unvelt/contract'
import { filesOverSite, inlineName, type FileOverSite } from '../idle/file-use-store.js'
import { deviceOf } from '../lens/device-of.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { ReadingRow } from '../reading/reading.model.js'
import { pictureOf, pictureSize } from '../reading/picture-store.js'
import { allReadingsOf } from '../reading/reading-store.js'
import { middleReading, middleTimedReading } from '../rule/prediction.service.js'
import { latePaintOf } from '../toll/late-paint-store.js'
import { spansOf } from '../trace/trace-store.js'
import { Once } from '../kept/once.js'
import { onlyTolls, untimedRepeats, type SweepRow } from '../sweep/sweep.model.js'
import { PageRow, pageView } from '../page/page.model.js'

/** All that one sweep knows of one page. */
@Injectable()
export class PageSheetService {
  private readonly once = new Once()

  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  /** Readings are unpacked for it: many who look at one page at the same time are answered by one look. */
  sheet(page: PageRow, sweep: SweepRow): Promise<PageSheet> {
    return this.once.run(`${sweep.id} ${page.id}`, () => this.made(page, sweep))
  }

  private async made(page: PageRow, sweep: SweepRow): Promise<PageSheet> {
    if (sweep.thinnedAt) throw new ProblemError(410, onlyTolls(sweep))
    const variant = sweep.purpose === 'proof' ? 'after' : 'live'
    const all = await allReadingsOf(sweep.id, page.id, variant)
    const readings = freshOnes(all)
    const timed = timedOnes(readings)
    const kept = all.flatMap((each) => keptPage(each) ?? [])
    const failures = await ReadingRow.findAll({
      where: { sweepId: sweep.id, pageId: page.id, variant },
      attributes: ['failure'],
    })
    const reasons = failures.flatMap((row) => row.failure ?? [])
    const reading = await middleReading(sweep, page.id, variant)
    if (!reading && reasons.length === 0) throw notFound('reading of this page')
    const attribution = reading && attribute(reading, sweep.sources)
    // What is shown may be the one that looked at everything; where the time goes is told by one whose times count.
    const clocked = await middleTimedReading(sweep, page.id, variant)
    const overSite = new Map(
      (await filesOverSite(this.sequelize, sweep.id, page.id)).map((file) => [`${file.url} ${file.bytes}`, file]),
    )
    const noise = repeatability(timed.flatMap((each) => each.timings.load ?? []))
    const idle = reading ? idleByRequest(reading) : new Map<string, number>()
    const document = reading?.requests.filter(({ type }) => type === 'document').at(-1)
    const inPage = reading?.inlineCode.some(({ used }) => used)
      ? inlineIdle(reading).reduce((sum, bytes) => sum + bytes, 0)
      : null
    const inlineOver = reading && overSiteOfInline(reading, overSite)
    const repeatsAttributed = readings.map((each) => attribute(each, sweep.sources))
    const repeats = readings.map((each, n) => tolls(each, repeatsAttributed[n]!))
    const clock = readings[middleRepeats(repeats, areTimed(readings)).mainThreadMs]
    const timeOf = clock ? timeByUrl(clock) : new Map<string, number>()
    const late = latePaintOf(readings, repeatsAttributed, sweep.sources)
    const names = reading ? (Object.keys(reading.timings) as (keyof typeof reading.timings)[]) : []
    return {
      page: pageView(page),
      sweepId: sweep.id,
      repeats: readings.length,
      timedRepeats: timed.length,
      failedRepeats: reasons.length,
      failures: [...new Set(reasons)],
      keptLeftOut: all.length - readings.length,
      keptBecause: kept[0] ?? null,
      timings: Object.fromEntries(
        names.map((name) => {
          const known = timed.flatMap((r) => r.timings[name] ?? [])
          return [name, known.length > 0 ? median(known) : null]
        }),
      ),
      noise: noise && { ...noise, repeatsNeeded: noise.repeatsNeeded && noise.repeatsNeeded + untimedRepeats(sweep) },
      middleLoadMs: reading?.timings.load ?? null,
      domElements: reading?.domElements ?? 0,
      requests: (reading?.requests ?? []).map((request) => {
        const charge = attribution!.requests.get(request.id)!
        const life = cacheLife(request)
        const file = overSite.get(`${request.url} ${request.decodedBytes}`)
        const { id, url, type, status, startedMs, endedMs, transferBytes, decodedBytes } = request
        return {
          id,
          url,
          type,
          preloaded: request.initiator.type === 'preload',
          status,
          failure: request.failure ?? null,
          startedMs,
          endedMs,
          transferBytes,
          fromCache: request.fromCache,
          sizeUnknown: request.sizeUnknown === true,
          decodedBytes,
          cacheSeconds: life?.seconds ?? null,
          cacheBy: life?.by ?? '',
          compression: compression(request),
          ...(id === document?.id && inlineOver
            ? inlineOver
            : { idleEverywhere: file?.idleEverywhere ?? null, neededLater: file?.neededLater ?? null }),
          idleBytes: id === document?.id ? (inPage ?? null) : (idle.get(id) ?? null),
          mainThreadMs: takeOnce(timeOf, url),
          payer: charge.payer,
          evidence: charge.evidence,
          because: charge.because,
        }
      }),
      consoleErrors: reading?.consoleErrors ?? [],
      server: clocked?.traceId ? await this.serverWork(clocked, clocked.traceId) : null,
      wait: clocked ? waitSplit(clocked, attribute(clocked, sweep.sources)) : null,
      fonts: reading?.fonts ?? [],
      ...stepsOf(readings, sweep.sources),
      companions: reading?.companions ?? [],
      latePaint: late && { ...late, device: await deviceOf(sweep.lensId) },
      picture: await pictureSize(this.sequelize, { sweepId: sweep.id, pageId: page.id, variant }),
    }
  }

  async picture(pageId: number, sweep: SweepRow): Promise<Buffer | null> {
    const variant = sweep.purpose === 'proof' ? 'after' : 'live'
    return pictureOf(this.sequelize, { sweepId: sweep.id, pageId, variant })
  }

  private async serverWork(
    { serverTiming, serverBySpans = false }: Reading,
    traceId: string,
  ): Promise<ServerWork | null> {
    const spans = await spansOf(this.sequelize, traceId)
    if (spans.length === 0) return null
    return {
      spans: spans.length,
      steps: serverSteps(spans),
      queries: queryGroups(spans),
      peakMemoryBytes: peakMemory(spans),
      chargedBySpans: serverBySpans,
      differences: serverBySpans ? null : witnessDifferences(serverTiming, spans),
    }
  }
}

/** Steps are taken in one of the repeats. */
function stepsOf(
  readings: readonly Reading[],
  sources: AttributionSources,
): Pick<PageSheet, 'steps' | 'neededLater' | 'elementsBy' | 'writersTold'> {
  const reading = readings.find(({ steps }) => steps.length > 0)
  if (!reading) return { steps: [], neededLater: {}, elementsBy: [], writersTold: false }
  const attribution = attributeWithSteps(reading, sources)
  const { requests } = attribution
  const payerOf = (id: string) => requests.get(id)!.payer
  const neededBy: Record<string, number> = {}
  for (const [id, bytes] of neededLater(reading))
    if (bytes > 0 && requests.has(id)) neededBy[payerOf(id)] = (neededBy[payerOf(id)] ?? 0) + bytes
  inlineNeededLater(reading).forEach((bytes, index) => {
    const payer = attribution.inlineCode[index]?.payer ?? CONTENT
    if (bytes > 0) neededBy[payer] = (neededBy[payer] ?? 0) + bytes
  })
  return {
    steps: reading.steps.map(({ name, outcome, why, requests: brought }) => ({
      name,
      outcome,
      why: why ?? null,
      requests: brought.map(({ id, url, type, transferBytes }) => ({ url, type, transferBytes, payer: payerOf(id) })),
    })),
    neededLater: neededBy,
    elementsBy: [...elementsByPayer(reading, attribution)].map(([payer, count]) => ({ payer, ...count })),
    writersTold: reading.elementWriters !== undefined,
  }
}

/** What of a page's inline code no page used, and what only steps did; null where nothing is known of any. */
function overSiteOfInline(
  { inlineCode }: Reading,
  overSite: ReadonlyMap<string, FileOverSite>,
): Pick<FileOverSite, 'idleEverywhere' | 'neededLater'> | null {
  const known = inlineCode.flatMap(({ hash, bytes }) => overSite.get(`${inlineName(hash)} ${bytes}`) ?? [])
  if (known.length === 0) return null
  const sum = (of: 'idleEverywhere' | 'neededLater') => known.reduce((all, file) => all + file[of], 0)
  return { idleEverywhere: sum('idleEverywhere'), neededLater: sum('neededLater') }
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
