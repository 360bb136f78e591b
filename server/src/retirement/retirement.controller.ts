import { Body, Controller, Get, HttpCode, Param, Patch, Post } from '@nestjs/common'
import {
  RetirementChange,
  RetirementDo,
  RetirementOpening,
  Retirements,
  RetirementSheet,
  SiteLeftovers,
  WorkPageChange,
} from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { RetirementService } from './retirement.service.js'

/** Add-ons that go for good, step by step, with a way back at each. */
@Controller()
export class RetirementController {
  constructor(
    private readonly sites: SiteService,
    private readonly retirements: RetirementService,
  ) {}

  @Get('sites/:site/retirements')
  @KeptReady()
  @Answers(Retirements)
  async place(@Param('site', IdPipe) siteId: number): Promise<Retirements> {
    return this.retirements.place(await this.sites.get(siteId))
  }

  @Post('sites/:site/retirements')
  @HttpCode(201)
  @Answers(RetirementSheet, { status: 201 })
  async open(@Param('site', IdPipe) siteId: number, @Body() wish: RetirementOpening): Promise<RetirementSheet> {
    return this.retirements.open(await this.sites.get(siteId), wish)
  }

  /** What is left at the site of add-ons that it does not have any more. */
  @Get('sites/:site/leftovers')
  @Answers(SiteLeftovers)
  async leftovers(@Param('site', IdPipe) siteId: number): Promise<SiteLeftovers> {
    return this.retirements.leftovers(await this.sites.get(siteId))
  }

  @Get('retirements/:retirement')
  @Answers(RetirementSheet)
  sheet(@Param('retirement', IdPipe) id: number): Promise<RetirementSheet> {
    return this.retirements.sheet(id)
  }

  @Patch('retirements/:retirement')
  @Answers(RetirementSheet)
  change(@Param('retirement', IdPipe) id: number, @Body() change: RetirementChange): Promise<RetirementSheet> {
    return this.retirements.change(id, change)
  }

  @Patch('retirements/:retirement/pages/:page')
  @Answers(RetirementSheet)
  changePage(
    @Param('retirement', IdPipe) id: number,
    @Param('page', IdPipe) pageId: number,
    @Body() change: WorkPageChange,
  ): Promise<RetirementSheet> {
    return this.retirements.changePage(id, pageId, change)
  }

  @Post('retirements/:retirement/rehearse')
  @HttpCode(200)
  @Answers(RetirementSheet)
  rehearse(@Param('retirement', IdPipe) id: number): Promise<RetirementSheet> {
    return this.retirements.rehearse(id)
  }

  @Post('retirements/:retirement/do')
  @HttpCode(200)
  @Answers(RetirementSheet)
  do(@Param('retirement', IdPipe) id: number, @Body() wish: RetirementDo): Promise<RetirementSheet> {
    return this.retirements.do(id, wish)
  }
}
