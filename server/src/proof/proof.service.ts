import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { WEIGHED } from '@unvelt/core'
import { PROOF_REPEATS, type Proof, type ProofPage, type ProofSummary } from '@unvelt/contract'
import { keptView } from '../kept/kept-view.js'
import { PageRow, pageView } from '../page/page.model.js'
import { notFound } from '../problem/problem.error.js'
import { ReadingRow } from '../reading/reading.model.js'
import { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { compared } from './compared.js'
import { proofGain } from './proof-gain.js'
import { ProofRow } from './proof.model.js'

/** Those that every reading has in a column of its own; the rest is kept with readings that are compared. */
const COLUMNS = ['requests', 'transferBytes', 'decodedBytes', 'serverMs', 'queries', 'queryMs', 'loadMs'] as const
const FIGURES = [
  ...WEIGHED.slice(0, WEIGHED.indexOf('queries') + 1),
  'queryMs',
  ...WEIGHED.slice(WEIGHED.indexOf('queries') + 1),
]

/** Before and after of a change, read in turn under the same lens. */
@Injectable()
export class ProofService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  /** The proof of a change. Whoever asks again, after he was killed while he waited for the answer, gets the same. */
  async startOnce(
    site: SiteRow,
    pages: PageRow[],
    { from, to, title, prediction }: { from: number; to: number; title: string; prediction: ProofRow['prediction'] },
  ): Promise<ProofRow> {
    const place = { siteId: site.id, fromVersion: from, toVersion: to }
    const begun = await ProofRow.findOne({ where: place, order: [['id', 'desc']] })
    if (begun) return begun
    let proof: ProofRow | null = null
    await this.sweeps.start(site, {
      purpose: 'proof',
      pageIds: pages.map((page) => page.id),
      repeats: PROOF_REPEATS,
      variants: [
        { name: 'before', rules: from },
        { name: 'after', rules: to },
      ],
      also: async (sweep, transaction) => {
        proof = await ProofRow.create({ ...place, sweepId: sweep.id, title, prediction }, { transaction })
      },
    })
    return proof!
  }

  async list(siteId: number): Promise<ProofRow[]> {
    return ProofRow.findAll({ where: { siteId }, order: [['id', 'desc']], limit: 100 })
  }

  async get(id: number): Promise<ProofRow> {
    const row = await ProofRow.findByPk(id)
    if (!row) throw notFound('proof')
    return row
  }

  /** Reads its pages some times more, before and after in turn as before. */
  async readMore(row: ProofRow, times: number): Promise<void> {
    await this.sweeps.readMore(await this.sweeps.get(row.sweepId), times)
  }

  /** What it came to, without its readings; worked out once for as long as no other is taken. */
  async summary(row: ProofRow): Promise<ProofSummary> {
    const { id, title, fromVersion, toVersion } = row
    const sweep = await this.sweeps.get(row.sweepId)
    const { leastDifference } = (await SiteRow.findByPk(row.siteId))!
    const make = async () => proofGain((await this.view(row)).pages)
    const gain = await keptView(this.sequelize, sweep, 'proof-gain', make, String(leastDifference))
    return {
      id,
      title,
      fromVersion,
      toVersion,
      sweep: await this.sweeps.view(sweep),
      gain: gain.pages > 0 ? gain : null,
    }
  }

  async view(row: ProofRow): Promise<Proof> {
    const sweep = await this.sweeps.get(row.sweepId)
    const site = (await SiteRow.findByPk(row.siteId))!
    const readings = await ReadingRow.findAll({
      where: { sweepId: sweep.id, failure: null },
      attributes: { exclude: ['detail'] },
      order: ['pageId', 'repeat'],
      // Thousands of rows, of which nothing is asked but their figures.
      raw: true,
    })
    const pages = await PageRow.findAll({
      where: { id: [...new Set(readings.map((r) => r.pageId))] },
      order: ['position'],
    })
    return {
      id: row.id,
      title: row.title,
      fromVersion: row.fromVersion,
      toVersion: row.toVersion,
      sweep: await this.sweeps.view(sweep),
      pages: proofPages(pages, readings, site.leastDifference, row.prediction),
    }
  }
}

/** All figures of all pages, judged together, so that chance has no more of them for itself than of one. */
function proofPages(
  pages: PageRow[],
  readings: ReadingRow[],
  leastShare: number,
  prediction: ProofRow['prediction'],
): ProofPage[] {
  // Proofs of earlier versions have kept fewer.
  const measures = FIGURES.filter((measure) => readings.some((reading) => valueOf(reading, measure) !== null))
  const byPage = new Map<number, ReadingRow[]>()
  for (const reading of readings) byPage.set(reading.pageId, [...(byPage.get(reading.pageId) ?? []), reading])
  const sides = pages.flatMap((page) => {
    const own = byPage.get(page.id) ?? []
    const side = (variant: string, measure: string) =>
      own.filter((r) => r.variant === variant).flatMap((reading) => valueOf(reading, measure) ?? [])
    return measures.map((measure) => ({ measure, before: side('before', measure), after: side('after', measure) }))
  })
  const figures = compared(sides, leastShare)
  return pages.map((page, n) => ({
    page: pageView(page),
    figures: Object.fromEntries(measures.map((measure, m) => [measure, figures[n * measures.length + m]!])),
    predicted: predictedOf(prediction?.[page.path]),
  }))
}

function valueOf(reading: ReadingRow, measure: string): number | null {
  // Read raw, large numbers are texts.
  if ((COLUMNS as readonly string[]).includes(measure)) {
    const value = reading[measure as (typeof COLUMNS)[number]]
    return value === null ? null : Number(value)
  }
  return reading.figures?.[measure as keyof ReadingRow['figures']] ?? null
}

/** What was to be spared, as the difference that it would make. */
const predictedOf = (saved: Record<string, number> | undefined): Record<string, number> =>
  Object.fromEntries(Object.entries(saved ?? {}).map(([measure, value]) => [measure, value === 0 ? 0 : -value]))
