import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { pictureMove, picturesOverPages, viewsInThousand, type NextMove } from '@unvelt/core'
import { STANDARD_SIMILARITY, type PictureLookRequest, type SitePictures } from '@unvelt/contract'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import type { PicturesTaken } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { PromiseService } from '../promise/promise.service.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'

interface Look {
  id: number
  pageId: number
  wish: { similarity: number }
  taken: PicturesTaken
  failure: string | null
  takenAt: Date
}

/** The pictures of all pages of a site. */
@Injectable()
export class SitePicturesService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
    private readonly promises: PromiseService,
  ) {}

  /** What is to be done about them, as far as they were looked at. */
  async move(site: SiteRow): Promise<NextMove | null> {
    if (!(await this.onDemand.hasTaken('pictures', site.id))) return null
    const { found, leastBytes } = await this.find(site)
    const isChanged = await this.promises.changedSince(site, 'picture')
    return pictureMove(
      found.filter(({ foremost }) => !isChanged(foremost.picture)),
      leastBytes,
    )
  }

  async view(site: SiteRow): Promise<SitePictures> {
    const { pages, good, looks, lookOf, found, together, leastBytes, byViews } = await this.find(site)
    const isChanged = await this.promises.changedSince(site, 'picture')
    return {
      pages: pages.length,
      looked: good.length,
      waiting: await this.waiting(site.id),
      failed: looks.flatMap(({ pageId, failure }) => (failure === null ? [] : { pageId, failure })),
      similarity: good[0]?.wish.similarity ?? STANDARD_SIMILARITY,
      since: good.length > 0 ? new Date(Math.min(...good.map(({ takenAt }) => takenAt.getTime()))).toISOString() : null,
      byViews,
      together,
      leastBytes,
      pictures: found.map(({ foremost: { pageId, n }, addresses, pageIds, spared, twice }) => {
        const { id: lookId, taken } = lookOf.get(pageId)!
        const picture = taken.pictures[n]!
        return { addresses, pageIds, spared, twice, pageId, lookId, n, picture, changed: isChanged(picture) }
      }),
    }
  }

  private async find(site: SiteRow) {
    const pages = await this.pages(site.id)
    const byId = new Map(pages.map((page) => [page.id, page]))
    const looks = (await this.newestLooks(site.id)).filter(({ pageId }) => byId.has(pageId))
    const good = looks.filter(({ failure }) => failure === null)
    const lookOf = new Map(good.map((look) => [look.pageId, look]))
    const looked = good.map(({ pageId, taken }) => ({
      pageId,
      views: viewsOf(byId.get(pageId)!),
      pictures: taken.pictures.map((picture) => ({
        ...picture,
        hash: picture.hash ?? '',
        lightest: picture.remade[0]?.bytes ?? null,
      })),
    }))
    const visits = { views: pages.reduce((sum, page) => sum + (viewsOf(page) ?? 0), 0), pages: pages.length }
    const together = looked.reduce(
      (sum, page) => sum + viewsInThousand(page, visits) * page.pictures.reduce((all, { bytes }) => all + bytes, 0),
      0,
    )
    return {
      pages,
      looks,
      good,
      lookOf,
      found: picturesOverPages(looked, visits),
      together,
      leastBytes: Math.round(site.leastDifference * together),
      byViews: visits.views > 0,
    }
  }

  /** Every page that is not waiting for it already, the most visited first. */
  async start(site: SiteRow, { similarity = STANDARD_SIMILARITY }: PictureLookRequest): Promise<SitePictures> {
    await this.sweeps.refuseWhileRunning(site.id)
    if ((await this.waiting(site.id)) > 0)
      throw new ProblemError(409, 'The pictures of this site are being looked at already.')
    const pages = (await this.pages(site.id)).sort((a, b) => (viewsOf(b) ?? 0) - (viewsOf(a) ?? 0))
    if (pages.length === 0) throw new ProblemError(409, 'The site has no page that anybody may see.')
    await this.onDemand.startMany(
      'pictures',
      { siteId: site.id, pageIds: pages.map(({ id }) => id) },
      { similarity },
      'The pictures of one of these pages are being looked at already.',
    )
    return this.view(site)
  }

  /** What was looked at stays. */
  async stop(site: SiteRow): Promise<SitePictures> {
    await this.sequelize.query(
      `delete from reading_on_demand where site_id = :site and kind = 'pictures' and state = 'waiting'`,
      { replacements: { site: site.id } },
    )
    return this.view(site)
  }

  /** Pages that the measuring browser sees as any visitor does. */
  private pages(siteId: number): Promise<PageRow[]> {
    return PageRow.findAll({ where: { siteId, area: 'public', signedIn: false }, order: ['position'], raw: true })
  }

  private newestLooks(siteId: number): Promise<Look[]> {
    return this.sequelize.query<Look>(
      `select distinct on (page_id) id, page_id "pageId", wish, taken, failure, taken_at "takenAt" from reading_on_demand
       where site_id = :siteId and kind = 'pictures' and state = 'done' order by page_id, id desc`,
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
  }

  private async waiting(siteId: number): Promise<number> {
    const [row] = await this.sequelize.query<{ n: number }>(
      `select count(*)::int n from reading_on_demand where site_id = :siteId and kind = 'pictures' and state = 'waiting'`,
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
    return row!.n
  }
}

const viewsOf = ({ importedViews, views }: PageRow) => importedViews ?? views
