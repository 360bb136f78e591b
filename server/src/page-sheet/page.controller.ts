import { Controller, Get, Param, Query, StreamableFile } from '@nestjs/common'
import { PageSheet } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { notFound } from '../problem/problem.error.js'
import { pictureType } from '../reading/lighter-picture.js'
import { SweepService } from '../sweep/sweep.service.js'
import { PageRow } from '../page/page.model.js'
import { PageSheetService } from './page-sheet.service.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'

@Controller('sites/:site/pages/:page')
export class PageController {
  constructor(
    private readonly sheets: PageSheetService,
    private readonly sweeps: SweepService,
  ) {}

  @Get()
  @Answers(PageSheet)
  async sheet(
    @Param('site', IdPipe) siteId: number,
    @Param('page', IdPipe) id: number,
    @Query('sweep', WholePipe) sweepId?: number,
  ): Promise<PageSheet> {
    const page = await PageRow.findOne({ where: { siteId, id } })
    if (!page) throw notFound('page')
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (!sweep || sweep.siteId !== siteId) throw notFound('sweep')
    return this.sheets.sheet(page, sweep)
  }

  /** The page's picture. It shows whatever the site shows, so it may run nothing and be nothing else. */
  @Get('picture')
  async picture(
    @Param('site', IdPipe) siteId: number,
    @Param('page', IdPipe) pageId: number,
    @Query('sweep', IdPipe) sweepId: number,
  ): Promise<StreamableFile> {
    const sweep = await this.sweeps.get(sweepId)
    if (sweep.siteId !== siteId) throw notFound('sweep')
    const content = await this.sheets.picture(pageId, sweep)
    if (!content) throw notFound('picture')
    return new StreamableFile(content, { type: pictureType(content), disposition: 'inline' })
  }
}
