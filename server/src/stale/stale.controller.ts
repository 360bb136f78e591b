import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { ReadAgainRequest, Stale, Sweep } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from '../sweep/sweep.service.js'
import { StaleService } from './stale.service.js'

@Controller('sweeps/:sweep')
export class StaleController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly stale: StaleService,
  ) {}

  @Get('stale')
  @KeptReady()
  @Answers(Stale)
  async view(@Param('sweep', IdPipe) id: number): Promise<Stale> {
    const sweep = await this.sweeps.get(id)
    return this.stale.view(await this.sites.get(sweep.siteId), sweep)
  }

  /** Reads again what is stale of a survey, in a sweep that takes over the rest. */
  @Post('stale/read-again')
  @HttpCode(201)
  @Answers(Sweep)
  async readAgain(@Param('sweep', IdPipe) id: number, @Body() { pageIds }: ReadAgainRequest): Promise<Sweep> {
    const sweep = await this.sweeps.get(id)
    const begun = await this.stale.readAgain(await this.sites.get(sweep.siteId), sweep, pageIds)
    return this.sweeps.view(begun)
  }
}
