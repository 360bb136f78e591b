import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { StepTrial, StepTrialRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { StepTrialService } from './step-trial.service.js'

/** Steps played on the live site, without any drafts. */
@Controller('sites/:site/step-trials')
export class StepTrialController {
  constructor(
    private readonly sites: SiteService,
    private readonly trials: StepTrialService,
  ) {}

  @Post()
  @HttpCode(202)
  @Answers(StepTrial, { status: 202 })
  async start(@Param('site', IdPipe) site: number, @Body() wish: StepTrialRequest): Promise<StepTrial> {
    return this.trials.start(await this.sites.get(site), wish)
  }

  /** The newest ones, the last one first. */
  @Get()
  @Answers(StepTrial, { list: true })
  async list(@Param('site', IdPipe) site: number): Promise<StepTrial[]> {
    return this.trials.list(await this.sites.get(site))
  }
}
