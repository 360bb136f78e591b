import { Body, Controller, Delete, Get, HttpCode, Param, Post, Query } from '@nestjs/common'
import { DismissalInput, Standing } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { notFound } from '../problem/problem.error.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from '../sweep/sweep.service.js'
import { StandingService } from './standing.service.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'

@Controller('sites/:site')
export class StandingController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly service: StandingService,
  ) {}

  @Get('standing')
  @KeptReady()
  @Answers(Standing)
  async standing(
    @Param('site', IdPipe) siteId: number,
    @Query('sweep', WholePipe) sweepId?: number,
  ): Promise<Standing> {
    const site = await this.sites.get(siteId)
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (sweep && sweep.siteId !== siteId) throw notFound('sweep of this site')
    return this.service.standing(site, sweep)
  }

  @Post('dismissals')
  @HttpCode(204)
  async dismiss(@Param('site', IdPipe) siteId: number, @Body() { move, why }: DismissalInput): Promise<void> {
    await this.sites.get(siteId)
    await this.service.dismiss(siteId, move, why)
  }

  @Delete('dismissals')
  @HttpCode(204)
  async bringBack(@Param('site', IdPipe) siteId: number, @Query('move') move: string): Promise<void> {
    await this.sites.get(siteId)
    await this.service.bringBack(siteId, move ?? '')
  }
}
