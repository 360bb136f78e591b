import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { MOST_SHARED } from '@unvelt/core'
import { SHARE_ROUNDS, type ProofShares, type ShareOffer, type SharePage, type ShareRequest } from '@unvelt/contract'
import { LensRow, visitOf } from '../lens/lens.model.js'
import { PageRow, pageView, rulePage } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import type { ProofRow } from '../proof/proof.model.js'
import { ReadingRow } from '../reading/reading.model.js'
import { DeploymentRow } from '../rule/deployment/deployment.model.js'
import { describeChange } from '../rule/deployment/describe-change.js'
import { SiteRow } from '../site/site.model.js'
import { paceOf } from '../sweep/pace.js'
import { SweepRow, type Variant } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { planPage, rulesOfWays, type PagePlan } from './plan-page.js'
import { ShareRow } from './share.model.js'
import { measuresOf } from './share-view.js'

const MOST_PAGES = 60
const MOST_FOUND = 20

/** Whose gain it is: reads a page under sets of a proof's changes, and shares out what all of them spare. */
@Injectable()
export class ShareService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  async offer(proof: ProofRow): Promise<ShareOffer> {
    const { site, sweep, deployment } = await this.caseOf(proof)
    const drafts = deployment?.drafts ?? []
    const whyNot = whyNotShared(site, drafts.length)
    const changes = await Promise.all(drafts.slice(0, MOST_SHARED).map((draft) => describeChange(site.id, [draft])))
    const pages = whyNot === null ? await this.pagesOf(proof, sweep, deployment!) : []
    const rows = await ShareRow.findAll({ where: { proofId: proof.id }, order: [['id', 'desc']], limit: MOST_FOUND })
    return {
      changeCount: drafts.length,
      changes,
      pages: pages.map(({ view }) => view),
      whyNot:
        whyNot ??
        (pages.length === 0 ? 'None of its pages is there any more, or none of the changes does anything.' : null),
      secondsEach: await paceOf(this.sequelize, sweep.id),
      found: await Promise.all(rows.map((row) => this.view(row, site))),
    }
  }

  async find(proof: ProofRow, { pageId, rounds = SHARE_ROUNDS }: ShareRequest): Promise<ProofShares> {
    const { site, sweep, deployment } = await this.caseOf(proof)
    const drafts = deployment?.drafts ?? []
    const whyNot = whyNotShared(site, drafts.length)
    if (whyNot !== null) throw new ProblemError(409, whyNot)
    const page = (await this.pagesOf(proof, sweep, deployment!)).find(({ view }) => view.id === pageId)
    if (!page)
      throw new ProblemError(422, 'The proof has not read this page, or none of its changes does anything there.')
    const { touches, plan, ways } = page.plan
    const rules = rulesOfWays(
      deployment!.fromRules,
      drafts.map((draft) => [draft]),
      page.plan,
    )
    const changes = await Promise.all(
      drafts.map(async (draft, at) => ({ words: await describeChange(site.id, [draft]), touches: touches[at]! })),
    )
    let row: ShareRow | null = null
    await this.sweeps.start(site, {
      purpose: 'shares',
      pageIds: [pageId],
      repeats: rounds,
      lensId: sweep.lensId!,
      variants: rules.map((all, at): Variant => ({
        name: `variant-${at}`,
        rules: 'live',
        drafts: { rules: all, addOns: {} },
      })),
      also: async ({ id: sweepId }, transaction) => {
        const made = { proofId: proof.id, sweepId, pageId, changes, plan: plan!, ways }
        row = await ShareRow.create(made, { transaction })
      },
    })
    return this.view(row!, site)
  }

  private async caseOf(proof: ProofRow) {
    const [site, sweep, deployment] = await Promise.all([
      SiteRow.findByPk(proof.siteId),
      this.sweeps.get(proof.sweepId),
      DeploymentRow.findOne({ where: { proofId: proof.id } }),
    ])
    return { site: site!, sweep, deployment }
  }

  /** Pages of the proof on which a change does anything, where most do first, then by visits. */
  private async pagesOf(
    proof: ProofRow,
    sweep: SweepRow,
    { fromRules, drafts }: DeploymentRow,
  ): Promise<{ view: SharePage; plan: PagePlan }[]> {
    const read = await ReadingRow.findAll({
      where: { sweepId: sweep.id, failure: null },
      attributes: ['pageId'],
      group: ['pageId'],
    })
    const lens = await LensRow.findByPk(sweep.lensId!)
    if (!lens) return []
    const pages = await PageRow.findAll({
      where: { id: read.map(({ pageId }) => pageId), gone: false },
      limit: MOST_PAGES,
    })
    const found = pages.map((page) => {
      const plan = planPage(
        fromRules,
        drafts.map((draft) => [draft]),
        rulePage(page),
        { visit: visitOf(lens), seed: proof.id },
      )
      const touching = plan.touches.filter(Boolean).length
      const { id, path, title } = page
      return {
        view: { id, path, title, touching, sets: plan.sets.length },
        plan,
        views: page.importedViews ?? page.views ?? 0,
      }
    })
    return found
      .filter(({ view }) => view.touching > 0)
      .sort((a, b) => b.view.touching - a.view.touching || b.views - a.views)
  }

  private async view(row: ShareRow, { leastDifference }: SiteRow): Promise<ProofShares> {
    const [page, sweep, readings] = await Promise.all([
      PageRow.findByPk(row.pageId),
      this.sweeps.get(row.sweepId),
      ReadingRow.findAll({
        where: { sweepId: row.sweepId, failure: null },
        attributes: ['variant', 'figures'],
        order: ['repeat'],
        raw: true,
      }),
    ])
    const byWay = Array.from({ length: Math.max(...row.ways) + 1 }, (_, way) =>
      readings.flatMap(({ variant, figures }) => (variant === `variant-${way}` && figures ? [figures] : [])),
    )
    const touches = row.changes.map((change) => change.touches)
    return {
      id: row.id,
      page: pageView(page!),
      sweep: await this.sweeps.view(sweep),
      changes: row.changes,
      sets: byWay.length,
      drawn: row.plan.orders !== null,
      measures: measuresOf({ plan: row.plan, ways: row.ways, touches }, byWay, leastDifference),
    }
  }
}

function whyNotShared(site: SiteRow, changes: number): string | null {
  if (changes === 0) return 'What made these rules live is not known any more, so its parts are not.'
  if (changes === 1) return 'It is one change: all of the gain is its own.'
  if (changes > MOST_SHARED) return `It is ${changes} changes; shares are told of ${MOST_SHARED} at the most.`
  if (site.connector?.measuring?.drafts !== true) return 'The site makes no page by rules that are not live.'
  return null
}
