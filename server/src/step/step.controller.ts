import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common'
import { SiteSteps, SiteStepsInput, StepRecording } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { StepService } from './step.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/steps')
export class StepController {
  constructor(
    private readonly sites: SiteService,
    private readonly steps: StepService,
  ) {}

  @Get()
  @Answers(SiteSteps)
  async list(@Param('site', IdPipe) site: number): Promise<SiteSteps> {
    return this.steps.list(await this.sites.get(site))
  }

  @Put()
  @Answers(SiteSteps)
  async change(@Param('site', IdPipe) site: number, @Body() { steps }: SiteStepsInput): Promise<SiteSteps> {
    return this.steps.change(await this.sites.get(site), steps)
  }

  @Delete()
  @Answers(SiteSteps)
  async forget(@Param('site', IdPipe) site: number): Promise<SiteSteps> {
    return this.steps.forget(await this.sites.get(site))
  }

  @Post('recordings')
  @HttpCode(200)
  @Answers(SiteSteps)
  async takeIn(@Param('site', IdPipe) site: number, @Body() recording: StepRecording): Promise<SiteSteps> {
    return this.steps.takeIn(await this.sites.get(site), recording)
  }
}
