import { Body, Controller, Delete, Get, HttpCode, Param, Patch, Post } from '@nestjs/common'
import { DraftChange, Drafts, LiveRules, Prediction, RuleFinding, RuleInputs } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { DraftService } from './draft.service.js'
import { LintService } from './lint.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { PredictionService } from './prediction.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site')
export class RuleController {
  constructor(
    private readonly sites: SiteService,
    private readonly drafts: DraftService,
    private readonly predictions: PredictionService,
    private readonly live: LiveRulesService,
    private readonly linter: LintService,
  ) {}

  @Get('drafts')
  @Answers(Drafts)
  async list(@Param('site', IdPipe) siteId: number): Promise<Drafts> {
    await this.sites.get(siteId)
    return this.drafts.view(siteId)
  }

  @Post('drafts')
  @HttpCode(200)
  @Answers(Drafts)
  async add(@Param('site', IdPipe) siteId: number, @Body() { rules }: RuleInputs): Promise<Drafts> {
    await this.drafts.add(await this.sites.get(siteId), rules)
    return this.drafts.view(siteId)
  }

  @Patch('drafts/:draft')
  @Answers(Drafts)
  async change(
    @Param('site', IdPipe) siteId: number,
    @Param('draft') id: string,
    @Body() change: DraftChange,
  ): Promise<Drafts> {
    await this.drafts.change(await this.sites.get(siteId), id, change)
    return this.drafts.view(siteId)
  }

  @Delete('drafts/:draft')
  @Answers(Drafts)
  async remove(@Param('site', IdPipe) siteId: number, @Param('draft') id: string): Promise<Drafts> {
    await this.drafts.remove(siteId, id)
    return this.drafts.view(siteId)
  }

  @Delete('drafts')
  @Answers(Drafts)
  async clear(@Param('site', IdPipe) siteId: number): Promise<Drafts> {
    await this.sites.get(siteId)
    await this.drafts.clear(siteId)
    return this.drafts.view(siteId)
  }

  /** What rules would spare, before anybody drafts them. */
  @Post('predictions')
  @HttpCode(200)
  @Answers(Prediction)
  async predict(@Param('site', IdPipe) siteId: number, @Body() { rules }: RuleInputs): Promise<Prediction> {
    const site = await this.sites.get(siteId)
    return this.predictions.predict(siteId, await this.drafts.check(site, rules))
  }

  /** What is wrong with the rules as they would be with the drafts live. */
  @Get('rules/findings')
  @Answers(RuleFinding, { list: true })
  async findings(@Param('site', IdPipe) siteId: number): Promise<RuleFinding[]> {
    await this.sites.get(siteId)
    return this.linter.findings(siteId)
  }

  @Get('rules')
  @Answers(LiveRules)
  async rules(@Param('site', IdPipe) siteId: number): Promise<LiveRules> {
    await this.sites.get(siteId)
    return this.live.view(siteId)
  }
}
