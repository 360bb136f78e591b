import { Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { StepIdeas } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { StepIdeaService } from './step-idea.service.js'

/** Steps that the pages of a site suggest. */
@Controller('sites/:site/step-ideas')
export class StepIdeaController {
  constructor(
    private readonly sites: SiteService,
    private readonly ideas: StepIdeaService,
  ) {}

  /** The newest ones; an empty list where nobody has looked. */
  @Get()
  @Answers(StepIdeas, { list: true })
  async list(@Param('site', IdPipe) site: number): Promise<StepIdeas[]> {
    return this.ideas.list(await this.sites.get(site))
  }

  /** What was found so far stays; the page that is being looked at is the last one. */
  @Post('stop')
  @HttpCode(200)
  @Answers(StepIdeas)
  async stop(@Param('site', IdPipe) site: number): Promise<StepIdeas> {
    return this.ideas.stop(await this.sites.get(site))
  }

  @Post()
  @HttpCode(202)
  @Answers(StepIdeas, { status: 202 })
  async start(@Param('site', IdPipe) site: number): Promise<StepIdeas> {
    return this.ideas.start(await this.sites.get(site))
  }
}
