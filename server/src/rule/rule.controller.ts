import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Patch, Post } from '@nestjs/common'
import { DraftChange, Drafts, LiveRules, Prediction, PutLiveResult, RuleInputs } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { PredictionService } from './prediction.service.js'
import { PutLiveService } from './put-live.service.js'

@Controller('sites/:site')
export class RuleController {
  constructor(
    private readonly sites: SiteService,
    private readonly drafts: DraftService,
    private readonly predictions: PredictionService,
    private readonly live: LiveRulesService,
    private readonly putLiveService: PutLiveService,
  ) {}

  @Get('drafts')
  @Answers(Drafts)
  async list(@Param('site', ParseIntPipe) siteId: number): Promise<Drafts> {
    await this.sites.get(siteId)
    return this.drafts.view(siteId)
  }

  @Post('drafts')
  @HttpCode(200)
  @Answers(Drafts)
  async add(@Param('site', ParseIntPipe) siteId: number, @Body() { rules }: RuleInputs): Promise<Drafts> {
    await this.drafts.add(await this.sites.get(siteId), rules)
    return this.drafts.view(siteId)
  }

  @Patch('drafts/:draft')
  @Answers(Drafts)
  async change(
    @Param('site', ParseIntPipe) siteId: number,
    @Param('draft') id: string,
    @Body() change: DraftChange,
  ): Promise<Drafts> {
    await this.drafts.change(await this.sites.get(siteId), id, change)
    return this.drafts.view(siteId)
  }

  @Delete('drafts/:draft')
  @Answers(Drafts)
  async remove(@Param('site', ParseIntPipe) siteId: number, @Param('draft') id: string): Promise<Drafts> {
    await this.drafts.remove(siteId, id)
    return this.drafts.view(siteId)
  }

  @Delete('drafts')
  @Answers(Drafts)
  async clear(@Param('site', ParseIntPipe) siteId: number): Promise<Drafts> {
    await this.sites.get(siteId)
    await this.drafts.clear(siteId)
    return this.drafts.view(siteId)
  }

  /** What rules would spare, before anybody drafts them. */
  @Post('predictions')
  @HttpCode(200)
  @Answers(Prediction)
  async predict(@Param('site', ParseIntPipe) siteId: number, @Body() { rules }: RuleInputs): Promise<Prediction> {
    const site = await this.sites.get(siteId)
    return this.predictions.predict(siteId, await this.drafts.check(site, rules))
  }

  @Get('rules')
  @Answers(LiveRules)
  async rules(@Param('site', ParseIntPipe) siteId: number): Promise<LiveRules> {
    await this.sites.get(siteId)
    return this.live.view(siteId)
  }

  @Post('rules/put-live')
  @HttpCode(200)
  @Answers(PutLiveResult)
  async putLive(@Param('site', ParseIntPipe) siteId: number): Promise<PutLiveResult> {
    return this.putLiveService.putDrafts(await this.sites.get(siteId))
  }

  @Post('rules/take-back/:version')
  @HttpCode(200)
  @Answers(PutLiveResult)
  async takeBack(
    @Param('site', ParseIntPipe) siteId: number,
    @Param('version', ParseIntPipe) version: number,
  ): Promise<PutLiveResult> {
    return this.putLiveService.takeBack(await this.sites.get(siteId), version)
  }
}
