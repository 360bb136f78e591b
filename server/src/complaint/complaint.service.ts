import { Inject, Injectable } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import { newComplaints } from '@unvelt/core'
import type { PageComplaints, SiteComplaints } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { CauseService } from './cause.service.js'
import { complaintsOfSweep, surveyBefore } from './complaints-of-sweep.js'
import { changedBetween, complaintsIn, lastTwo, withNews } from './page-history.js'

/** What a page complains of, since when, and what was looked into. */
@Injectable()
export class ComplaintService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly causes: CauseService,
  ) {}

  async of(page: PageRow): Promise<PageComplaints> {
    const [sweep, earlier] = await lastTwo(this.sequelize, page.id)
    const [now, then, searches] = await Promise.all([
      complaintsIn(sweep, page.id),
      complaintsIn(earlier, page.id),
      this.causes.ofPage(page.id),
    ])
    return {
      complaints: withNews(now ?? [], then),
      readAt: sweep?.startedAt.toISOString() ?? null,
      earlierAt: earlier?.startedAt.toISOString() ?? null,
      changed: sweep && earlier ? changedBetween(earlier.inventory, sweep.inventory) : [],
      searches,
    }
  }

  /** What pages complain of in a sweep, and did not in the one before. */
  async newIn(sweep: SweepRow | null): Promise<SiteComplaints> {
    const earlier = sweep && (await surveyBefore(this.sequelize, sweep))
    if (!sweep || !earlier) return { earlierAt: null, news: [] }
    const [now, then] = await Promise.all([sweep, earlier].map((one) => complaintsOfSweep(this.sequelize, one)))
    const byPage = (found: typeof now) => new Map(found!.map(({ pageId, complaints }) => [pageId, complaints]))
    const news = newComplaints(byPage(now), byPage(then))
    const pages = await PageRow.findAll({ where: { id: [...new Set(news.flatMap((one) => one.pages))] } })
    const byId = new Map(pages.map(({ id, path, title }) => [id, { id, path, title }]))
    return {
      earlierAt: earlier.startedAt.toISOString(),
      news: news.map((one) => ({ ...one, pages: one.pages.flatMap((id) => byId.get(id) ?? []) })),
    }
  }
}
