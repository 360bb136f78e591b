import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { fileMove, filesOverPages, pagesWithAll, viewsInThousand, type LoadedFile, type NextMove } from '@unvelt/core'
import type { LookedAtFile, SiteFiles } from '@unvelt/contract'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import type { FilesTaken } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { PromiseService } from '../promise/promise.service.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'

interface Look {
  pageId: number
  taken: FilesTaken
  failure: string | null
  takenAt: Date
}

interface SiteFileRow extends LoadedFile {
  payer: string
}

/** The scripts and styles of all pages of a site. Each is weighed once, however many pages load it. */
@Injectable()
export class SiteFilesService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
    private readonly promises: PromiseService,
  ) {}

  /** What is to be done about them, as far as they were weighed. */
  async move(site: SiteRow): Promise<NextMove | null> {
    if (!(await this.onDemand.hasTaken('files', site.id))) return null
    const { found, leastBytes } = await this.find(site)
    const isChanged = await this.promises.changedSince(site, 'file')
    return fileMove(
      found.filter(({ file }) => !isChanged(file)),
      leastBytes,
    )
  }

  async view(site: SiteRow): Promise<SiteFiles> {
    const { loaded, found, lost, looks, toLookAt, together, leastBytes, byViews } = await this.find(site)
    const payers = new Map(loaded.map(({ url, payer }) => [url, payer]))
    const good = looks.filter(({ failure }) => failure === null)
    const isChanged = await this.promises.changedSince(site, 'file')
    return {
      files: loaded.length,
      weighed: found.length,
      lost,
      pagesToLookAt: toLookAt.length,
      waiting: await this.waiting(site.id),
      failed: looks.flatMap(({ pageId, failure }) => (failure === null ? [] : { pageId, failure })),
      since: good.length > 0 ? new Date(Math.min(...good.map(({ takenAt }) => takenAt.getTime()))).toISOString() : null,
      byViews,
      together,
      leastBytes,
      found: found.map(({ file, pageIds, bytes, byPacking, byMinifying, spared }) => ({
        ...{ file, pageIds: [...pageIds], bytes, byPacking, byMinifying, spared },
        payer: payers.get(file.url)!,
        changed: isChanged(file),
      })),
    }
  }

  /** The pages that have what is left to be weighed; all of it anew where nothing is. */
  async start(site: SiteRow): Promise<SiteFiles> {
    await this.sweeps.refuseWhileRunning(site.id)
    if ((await this.waiting(site.id)) > 0)
      throw new ProblemError(409, 'The files of this site are being weighed already.')
    const { toLookAt } = await this.find(site)
    if (toLookAt.length === 0)
      throw new ProblemError(
        409,
        'No page that anybody may see was read with a script or a style. Sweep the site first.',
      )
    await this.onDemand.startMany(
      'files',
      { siteId: site.id, pageIds: toLookAt },
      {},
      'The files of one of these pages are being weighed already.',
    )
    return this.view(site)
  }

  /** What was weighed stays. */
  async stop(site: SiteRow): Promise<SiteFiles> {
    await this.sequelize.query(
      `delete from reading_on_demand where site_id = $1 and kind = 'files' and state = 'waiting'`,
      { bind: [site.id] },
    )
    return this.view(site)
  }

  private async find(site: SiteRow) {
    const sweep = await this.sweeps.toShow(site.id)
    const pages = await PageRow.findAll({
      where: { siteId: site.id, area: 'public', signedIn: false, gone: false },
      raw: true,
    })
    const views = new Map(pages.map((page) => [page.id, { views: page.importedViews ?? page.views }]))
    const loaded = sweep ? await this.loadedIn(sweep.id) : []
    const looks = (await this.newestLooks(site.id)).filter(({ pageId }) => views.has(pageId))
    const weighed = new Map<string, LookedAtFile>()
    // What was weighed last counts.
    for (const { taken, failure } of looks.sort((a, b) => a.takenAt.getTime() - b.takenAt.getTime()))
      if (failure === null) for (const file of taken.files) if (file.bytes > 0) weighed.set(file.url, file)
    const visits = { views: [...views.values()].reduce((sum, one) => sum + (one.views ?? 0), 0), pages: pages.length }
    const found = filesOverPages(loaded, weighed, views, visits)
    const together = found.reduce(
      (sum, { file, pageIds }) =>
        sum +
        file.bytes *
          pageIds.reduce((all, id) => all + (views.has(id) ? viewsInThousand(views.get(id)!, visits) : 0), 0),
      0,
    )
    const unweighed = loaded.filter(({ url }) => !weighed.has(url))
    // A page on which it was looked for in vain has it under another address by now, or not at all.
    const looked = new Set(looks.flatMap(({ pageId, failure }) => (failure === null ? pageId : [])))
    const left = unweighed.filter(({ pageIds }) => !pageIds.some((id) => looked.has(id)))
    const may = new Set(views.keys())
    const toLookAt = pagesWithAll(left, may)
    return {
      loaded,
      looks,
      found,
      lost: unweighed.length - left.length,
      toLookAt: toLookAt.length > 0 ? toLookAt : pagesWithAll(loaded, may),
      together,
      leastBytes: Math.round(site.leastDifference * together),
      byViews: visits.views > 0,
    }
  }

  /** Addresses that change at each load are each a file of their own, and can't be weighed. */
  private loadedIn(sweepId: number): Promise<SiteFileRow[]> {
    return this.sequelize.query<SiteFileRow>(
      `select url, min(payer) payer, array_agg(distinct page_id) "pageIds" from file_toll
       where sweep_id = $1 and type in ('script', 'style') and transfer_bytes > 0 and url like 'http%'
       group by url order by url`,
      { bind: [sweepId], type: QueryTypes.SELECT },
    )
  }

  private newestLooks(siteId: number): Promise<Look[]> {
    return this.sequelize.query<Look>(
      `select distinct on (page_id) page_id "pageId", taken, failure, taken_at "takenAt" from reading_on_demand
       where site_id = $1 and kind = 'files' and state = 'done' order by page_id, id desc`,
      { bind: [siteId], type: QueryTypes.SELECT },
    )
  }

  private async waiting(siteId: number): Promise<number> {
    const [row] = await this.sequelize.query<{ n: number }>(
      `select count(*)::int n from reading_on_demand where site_id = $1 and kind = 'files' and state = 'waiting'`,
      { bind: [siteId], type: QueryTypes.SELECT },
    )
    return row!.n
  }
}
