import { Injectable } from '@nestjs/common'
import { PROOF_REPEATS, type Proof, type ProofPage } from '@unvelt/contract'
import { PageRow, pageView } from '../page/page.model.js'
import { notFound } from '../problem/problem.error.js'
import { ReadingRow } from '../reading/reading.model.js'
import { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { compared } from './compared.js'
import { ProofRow } from './proof.model.js'

const FIGURES = ['requests', 'transferBytes', 'decodedBytes', 'serverMs', 'queries', 'queryMs', 'loadMs'] as const

/** Before and after of a change, read in turn under the same lens. */
@Injectable()
export class ProofService {
  constructor(private readonly sweeps: SweepService) {}

  /** The proof of a change. Whoever asks again, after he was killed while he waited for the answer, gets the same. */
  async startOnce(
    site: SiteRow,
    pages: PageRow[],
    { from, to, title }: { from: number; to: number; title: string },
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
        proof = await ProofRow.create({ ...place, sweepId: sweep.id, title }, { transaction })
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

  async view(row: ProofRow): Promise<Proof> {
    const sweep = await this.sweeps.get(row.sweepId)
    const site = (await SiteRow.findByPk(row.siteId))!
    const readings = await ReadingRow.findAll({
      where: { sweepId: sweep.id, failure: null },
      attributes: { exclude: ['detail'] },
      order: ['pageId', 'repeat'],
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
      pages: proofPages(pages, readings, site.leastDifference),
    }
  }
}

/** All figures of all pages, judged together, so that chance has no more of them for itself than of one. */
function proofPages(pages: PageRow[], readings: ReadingRow[], leastShare: number): ProofPage[] {
  const sides = pages.flatMap((page) => {
    const own = readings.filter((r) => r.pageId === page.id)
    const side = (variant: string, measure: (typeof FIGURES)[number]) =>
      own.filter((r) => r.variant === variant).flatMap((r) => r[measure] ?? [])
    return FIGURES.map((measure) => ({ measure, before: side('before', measure), after: side('after', measure) }))
  })
  const figures = compared(sides, leastShare)
  return pages.map((page, n) => ({
    page: pageView(page),
    figures: Object.fromEntries(FIGURES.map((measure, m) => [measure, figures[n * FIGURES.length + m]!])),
  }))
}
