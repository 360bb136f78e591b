import { Body, Controller, Get, Header, HttpCode, Param, Post, Query, Res } from '@nestjs/common'
import type { Response } from 'express'
import {
  AcceptRequest,
  FailedStepQuery,
  Rehearsal,
  RehearsalRequest,
  RehearsalSheet,
  RoundRequest,
  UnacceptRequest,
} from '@unvelt/contract'
import { KeptReady } from '../ready/kept-ready.js'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { LiveRoundService } from './live-round.service.js'
import { RehearsalService } from './rehearsal.service.js'

/** Drafts tried on the real pages, the live site untouched. */
@Controller()
export class RehearsalController {
  constructor(
    private readonly sites: SiteService,
    private readonly rehearsals: RehearsalService,
    private readonly rounds: LiveRoundService,
  ) {}

  @Get('sites/:site/rehearsals')
  @KeptReady()
  @Answers(Rehearsal, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<Rehearsal[]> {
    await this.sites.get(siteId)
    return this.rehearsals.list(siteId)
  }

  @Post('sites/:site/rehearsals')
  @HttpCode(201)
  @Answers(Rehearsal, { status: 201 })
  async start(@Param('site', IdPipe) siteId: number, @Body() wish: RehearsalRequest): Promise<Rehearsal> {
    return this.rehearsals.start(await this.sites.get(siteId), wish)
  }

  /** Plays the guards on the live site as it is, without any draft. */
  @Post('sites/:site/rounds')
  @HttpCode(201)
  @Answers(Rehearsal, { status: 201 })
  async play(@Param('site', IdPipe) siteId: number, @Body() wish: RoundRequest): Promise<Rehearsal> {
    const site = await this.sites.get(siteId)
    // Which versions are there is told of the round, so it has to be true now.
    await this.sites.refreshIfReachable(site)
    return this.rounds.start(site, wish)
  }

  /** What a round saw is as it should be. */
  @Post('rehearsals/:rehearsal/sound')
  @HttpCode(200)
  @Answers(Rehearsal)
  takeAsSound(@Param('rehearsal', IdPipe) id: number): Promise<Rehearsal> {
    return this.rounds.takeAsSound(id)
  }

  @Get('rehearsals/:rehearsal')
  @Answers(RehearsalSheet)
  sheet(@Param('rehearsal', IdPipe) id: number): Promise<RehearsalSheet> {
    return this.rehearsals.sheet(id)
  }

  @Post('rehearsals/:rehearsal/stop')
  @HttpCode(200)
  @Answers(Rehearsal)
  stop(@Param('rehearsal', IdPipe) id: number): Promise<Rehearsal> {
    return this.rehearsals.stop(id)
  }

  @Post('rehearsals/:rehearsal/accept')
  @HttpCode(200)
  @Answers(RehearsalSheet)
  accept(@Param('rehearsal', IdPipe) id: number, @Body() wish: AcceptRequest): Promise<RehearsalSheet> {
    return this.rehearsals.accept(id, wish)
  }

  @Post('rehearsals/:rehearsal/unaccept')
  @HttpCode(200)
  @Answers(RehearsalSheet)
  unaccept(@Param('rehearsal', IdPipe) id: number, @Body() wish: UnacceptRequest): Promise<RehearsalSheet> {
    return this.rehearsals.unaccept(id, wish)
  }

  /** What was to be seen where a step failed. */
  @Get('rehearsals/:rehearsal/pictures/:page/:lens/failed-step')
  @Header('cache-control', 'private, max-age=300')
  async failedStep(
    @Param('rehearsal', IdPipe) id: number,
    @Param('page', IdPipe) pageId: number,
    @Param('lens', IdPipe) lensId: number,
    @Query() { step }: FailedStepQuery,
    @Res() response: Response,
  ): Promise<void> {
    const jpeg = await this.rehearsals.stepPicture({ rehearsalId: id, pageId, lensId }, step)
    response.type('image/jpeg').send(jpeg)
  }

  /** The page as it was without the drafts (`without`) or is with them (`with`), as a picture. */
  @Get('rehearsals/:rehearsal/pictures/:page/:lens/:side')
  @Header('cache-control', 'private, max-age=31536000, immutable')
  async picture(
    @Param('rehearsal', IdPipe) id: number,
    @Param('page', IdPipe) pageId: number,
    @Param('lens', IdPipe) lensId: number,
    @Param('side') side: string,
    @Res() response: Response,
  ): Promise<void> {
    const jpeg = await this.rehearsals.picture(
      { rehearsalId: id, pageId, lensId },
      side === 'with' ? 'with' : 'without',
    )
    response.type('image/jpeg').send(jpeg)
  }
}
