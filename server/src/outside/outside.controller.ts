import { Controller, Get, Param, Query } from '@nestjs/common'
import { Outside } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { notFound } from '../problem/problem.error.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from '../sweep/sweep.service.js'
import { OutsideService } from './outside.service.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'

@Controller('sites/:site/outside')
export class OutsideController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly outsides: OutsideService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(Outside)
  async get(@Param('site', IdPipe) siteId: number, @Query('sweep', WholePipe) sweepId?: number): Promise<Outside> {
    await this.sites.get(siteId)
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (sweep && sweep.siteId !== siteId) throw notFound('sweep of this site')
    return this.outsides.outside(siteId, sweep)
  }
}
