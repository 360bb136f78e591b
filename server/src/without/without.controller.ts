import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { WithoutRequest, WithoutView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { WithoutService } from './without.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/pages/:page/without')
export class WithoutController {
  constructor(
    private readonly sites: SiteService,
    private readonly without: WithoutService,
  ) {}

  @Get()
  @Answers(WithoutView)
  async view(@Param('site', IdPipe) site: number, @Param('page', IdPipe) page: number): Promise<WithoutView> {
    return this.without.view(await this.sites.get(site), page)
  }

  @Post()
  @HttpCode(202)
  @Answers(WithoutView, { status: 202 })
  async start(
    @Param('site', IdPipe) site: number,
    @Param('page', IdPipe) page: number,
    @Body() request: WithoutRequest,
  ): Promise<WithoutView> {
    return this.without.start(await this.sites.get(site), page, request)
  }
}
