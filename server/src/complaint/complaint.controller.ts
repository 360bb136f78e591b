import { Body, Controller, Get, HttpCode, Param, Post, Query } from '@nestjs/common'
import { CauseRequest, CauseSearch, PageComplaints, SiteComplaints } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { PageRow } from '../page/page.model.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'
import { notFound } from '../problem/problem.error.js'
import { SweepService } from '../sweep/sweep.service.js'
import { CauseService } from './cause.service.js'
import { ComplaintService } from './complaint.service.js'

/** What a live page complains of, and what for. */
@Controller()
export class ComplaintController {
  constructor(
    private readonly complaints: ComplaintService,
    private readonly causes: CauseService,
    private readonly sweeps: SweepService,
  ) {}

  @Get('sites/:site/complaints')
  @KeptReady()
  @Answers(SiteComplaints)
  async news(
    @Param('site', IdPipe) siteId: number,
    @Query('sweep', WholePipe) sweepId?: number,
  ): Promise<SiteComplaints> {
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (sweep && sweep.siteId !== siteId) throw notFound('sweep')
    return this.complaints.newIn(sweep)
  }

  @Get('sites/:site/pages/:page/complaints')
  @Answers(PageComplaints)
  async list(@Param('site', IdPipe) siteId: number, @Param('page', IdPipe) id: number): Promise<PageComplaints> {
    return this.complaints.of(await pageOf(siteId, id))
  }

  @Post('sites/:site/pages/:page/complaints/searches')
  @HttpCode(201)
  @Answers(CauseSearch, { status: 201 })
  async find(
    @Param('site', IdPipe) siteId: number,
    @Param('page', IdPipe) id: number,
    @Body() wish: CauseRequest,
  ): Promise<CauseSearch> {
    return this.causes.findOfPage(await pageOf(siteId, id), wish)
  }
}

async function pageOf(siteId: number, id: number): Promise<PageRow> {
  const page = await PageRow.findOne({ where: { siteId, id } })
  if (!page) throw notFound('page')
  return page
}
