import { Body, Controller, Delete, Get, HttpCode, Param, Patch, Post, Query, Res } from '@nestjs/common'
import { ApiResponse } from '@nestjs/swagger'
import type { Response } from 'express'
import { RULES_FORMAT } from '@unvelt/core'
import {
  DraftChange,
  Drafts,
  LiveRules,
  LocalCopies,
  Prediction,
  RuleFileInput,
  RuleFinding,
  RuleIds,
  RuleInputs,
  RulePartsFound,
  RuleSaving,
} from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { SiteService } from '../site/site.service.js'
import { DraftService } from './draft.service.js'
import { LintService } from './lint.service.js'
import { LocalCopiesService } from './local-copies.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { mergeRules } from './merge-rules.js'
import { RuleSavingsService } from './rule-savings.service.js'
import { ParticularsService } from './particulars.service.js'
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
    private readonly ruleSavings: RuleSavingsService,
    private readonly particulars: ParticularsService,
    private readonly localCopies: LocalCopiesService,
  ) {}

  @Get('drafts')
  @KeptReady()
  @Answers(Drafts)
  async list(@Param('site', IdPipe) siteId: number): Promise<Drafts> {
    await this.sites.get(siteId)
    return this.drafts.view(siteId)
  }

  @Post('drafts')
  @HttpCode(200)
  @Answers(Drafts)
  async add(@Param('site', IdPipe) siteId: number, @Body() { rules }: RuleInputs): Promise<Drafts> {
    const site = await this.sites.get(siteId)
    await this.drafts.add(site, await this.particulars.fill(site, rules))
    return this.drafts.view(siteId)
  }

  /** What a rule about an add-on can say beside its effect, by the newest sweep. */
  @Get('add-ons/:slug/rule-parts')
  @Answers(RulePartsFound)
  async ruleParts(@Param('site', IdPipe) siteId: number, @Param('slug') slug: string): Promise<RulePartsFound> {
    return this.particulars.found(await this.sites.get(siteId), slug)
  }

  /** Copies of outside files on the own host. */
  @Get('copies')
  @Answers(LocalCopies)
  async copies(@Param('site', IdPipe) siteId: number): Promise<LocalCopies> {
    return this.localCopies.list(await this.sites.get(siteId))
  }

  /** What some rules spare, live ones or drafts, each by the newest sweep that was read without it. */
  @Post('rules/savings')
  @HttpCode(200)
  @Answers(RuleSaving, { list: true })
  async savings(@Param('site', IdPipe) siteId: number, @Body() { ids }: RuleIds): Promise<RuleSaving[]> {
    await this.sites.get(siteId)
    return this.ruleSavings.savings(siteId, ids)
  }

  /** Takes a rule file in as drafts. */
  @Post('drafts/file')
  @HttpCode(200)
  @Answers(Drafts)
  async addFile(
    @Param('site', IdPipe) siteId: number,
    @Body() { file, partly = false }: RuleFileInput,
  ): Promise<Drafts> {
    await this.drafts.addFile(await this.sites.get(siteId), file, partly)
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

  /** Takes a draft up again that was set aside. */
  @Post('drafts/:draft/bring-back')
  @HttpCode(200)
  @Answers(Drafts)
  async bringBack(@Param('site', IdPipe) siteId: number, @Param('draft') id: string): Promise<Drafts> {
    await this.sites.get(siteId)
    await this.drafts.bringBack(siteId, id)
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

  /** The rules as a file (`unvelt-rules/1`): those that are live, or as they would be with the drafts. */
  @Get('rules/file')
  @ApiResponse({ status: 200, description: 'A rule file, by contract/schemas/rules.schema.json' })
  async file(
    @Param('site', IdPipe) siteId: number,
    @Query('with') what: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    await this.sites.get(siteId)
    const { rules: live } = await this.live.current(siteId)
    const rules = what === 'drafts' ? mergeRules(live, await this.drafts.rules(siteId)) : live
    response
      .attachment(`rules-${siteId}.json`)
      .type('application/json')
      .send(`${JSON.stringify({ format: RULES_FORMAT, rules }, null, 2)}\n`)
  }

  /** What is wrong with the rules as they would be with the drafts live. */
  @Get('rules/findings')
  @KeptReady()
  @Answers(RuleFinding, { list: true })
  async findings(@Param('site', IdPipe) siteId: number): Promise<RuleFinding[]> {
    await this.sites.get(siteId)
    return this.linter.findings(siteId)
  }

  @Get('rules')
  @KeptReady()
  @Answers(LiveRules)
  async rules(@Param('site', IdPipe) siteId: number): Promise<LiveRules> {
    await this.sites.get(siteId)
    return this.live.view(siteId)
  }
}
