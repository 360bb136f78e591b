import { Body, Controller, Delete, Get, HttpCode, Inject, Param, Patch, Post, Query } from '@nestjs/common'
import { Sequelize } from 'sequelize'
import {
  AddOn,
  AddOnChange,
  AddOnSheet,
  AnswerInput,
  NewAddOn,
  Question,
  QuestionInput,
  UseWordInput,
  VerdictInput,
} from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { notFound } from '../problem/problem.error.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from '../sweep/sweep.service.js'
import { UseService } from '../use/use.service.js'
import { answer, ask, decide, dropQuestion, questionsOf, takeVerdictBack } from '../verdict/verdict-store.js'
import { AddOnService } from './add-on.service.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'

@Controller('sites/:site')
export class AddOnController {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly addOns: AddOnService,
    private readonly use: UseService,
  ) {}

  @Get('add-ons')
  @KeptReady()
  @Answers(AddOn, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<AddOn[]> {
    await this.sites.get(siteId)
    return this.addOns.list(siteId)
  }

  @Post('add-ons')
  @HttpCode(201)
  @Answers(AddOn, { list: true, status: 201 })
  async add(@Param('site', IdPipe) siteId: number, @Body() input: NewAddOn): Promise<AddOn[]> {
    await this.sites.get(siteId)
    await this.addOns.add(siteId, input)
    return this.addOns.list(siteId)
  }

  @Get('add-ons/:slug')
  @KeptReady()
  @Answers(AddOnSheet)
  async sheet(
    @Param('site', IdPipe) siteId: number,
    @Param('slug') slug: string,
    @Query('sweep', WholePipe) sweepId?: number,
  ): Promise<AddOnSheet> {
    await this.sites.get(siteId)
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (sweep && sweep.siteId !== siteId) throw notFound('sweep of this site')
    return this.addOns.sheet(siteId, slug, sweep)
  }

  @Patch('add-ons/:slug')
  @Answers(AddOn, { list: true })
  async change(
    @Param('site', IdPipe) siteId: number,
    @Param('slug') slug: string,
    @Body() change: AddOnChange,
  ): Promise<AddOn[]> {
    await this.addOns.change(siteId, slug, change)
    return this.addOns.list(siteId)
  }

  @Delete('add-ons/:slug')
  @Answers(AddOn, { list: true })
  async remove(@Param('site', IdPipe) siteId: number, @Param('slug') slug: string): Promise<AddOn[]> {
    await this.addOns.remove(siteId, slug)
    return this.addOns.list(siteId)
  }

  @Post('add-ons/:slug/verdicts')
  @HttpCode(201)
  @Answers(AddOn, { list: true, status: 201 })
  async decide(
    @Param('site', IdPipe) siteId: number,
    @Param('slug') slug: string,
    @Body() input: VerdictInput,
  ): Promise<AddOn[]> {
    await this.addOns.get(siteId, slug)
    await decide(this.sequelize, siteId, slug, input)
    return this.addOns.list(siteId)
  }

  /** Takes the newest verdict back. */
  @Delete('add-ons/:slug/verdicts/newest')
  @Answers(AddOn, { list: true })
  async takeBack(@Param('site', IdPipe) siteId: number, @Param('slug') slug: string): Promise<AddOn[]> {
    await this.addOns.get(siteId, slug)
    await takeVerdictBack(this.sequelize, siteId, slug)
    return this.addOns.list(siteId)
  }

  @Post('add-ons/:slug/use')
  @HttpCode(204)
  async say(
    @Param('site', IdPipe) siteId: number,
    @Param('slug') slug: string,
    @Body() input: UseWordInput,
  ): Promise<void> {
    await this.addOns.get(siteId, slug)
    await this.use.say(siteId, slug, input)
  }

  @Get('questions')
  @Answers(Question, { list: true })
  async questions(@Param('site', IdPipe) siteId: number): Promise<Question[]> {
    await this.sites.get(siteId)
    return questionsOf(this.sequelize, siteId)
  }

  @Post('add-ons/:slug/questions')
  @HttpCode(201)
  @Answers(Question, { list: true, status: 201 })
  async ask(
    @Param('site', IdPipe) siteId: number,
    @Param('slug') slug: string,
    @Body() input: QuestionInput,
  ): Promise<Question[]> {
    await this.addOns.get(siteId, slug)
    await ask(this.sequelize, siteId, slug, input)
    return questionsOf(this.sequelize, siteId, slug)
  }

  @Post('questions/:question/answer')
  @HttpCode(204)
  async answer(
    @Param('site', IdPipe) siteId: number,
    @Param('question', IdPipe) id: number,
    @Body() input: AnswerInput,
  ): Promise<void> {
    if (!(await answer(this.sequelize, siteId, id, input))) throw notFound('question')
  }

  @Delete('questions/:question')
  @HttpCode(204)
  async drop(@Param('site', IdPipe) siteId: number, @Param('question', IdPipe) id: number): Promise<void> {
    await dropQuestion(this.sequelize, siteId, id)
  }
}
