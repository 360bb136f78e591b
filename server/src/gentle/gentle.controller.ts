import { Body, Controller, Get, HttpCode, Param, Post, Query } from '@nestjs/common'
import { BestEffectRequest, GentleSearch } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { BestEffectService } from './best-effect.service.js'
import { GentleService } from './gentle.service.js'

/** Which effect works in the place of one that broke something. */
@Controller()
export class GentleController {
  constructor(
    private readonly sites: SiteService,
    private readonly gentle: GentleService,
    private readonly best: BestEffectService,
  ) {}

  @Get('sites/:site/gentler')
  @Answers(GentleSearch, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<GentleSearch[]> {
    await this.sites.get(siteId)
    return this.gentle.list(siteId)
  }

  @Post('sites/:site/drafts/:draft/gentler')
  @HttpCode(200)
  @Answers(GentleSearch)
  async begin(@Param('site', IdPipe) siteId: number, @Param('draft') draft: string): Promise<GentleSearch> {
    return this.gentle.begin(await this.sites.get(siteId), draft)
  }

  /** The newest search for what works of an add-on on a page: a list of one, or of none. */
  @Get('sites/:site/best-effects')
  @Answers(GentleSearch, { list: true })
  async bestOf(@Param('site', IdPipe) siteId: number, @Query() of: BestEffectRequest): Promise<GentleSearch[]> {
    await this.sites.get(siteId)
    return this.best.list(siteId, of)
  }

  @Post('sites/:site/best-effects')
  @HttpCode(200)
  @Answers(GentleSearch)
  async beginBest(@Param('site', IdPipe) siteId: number, @Body() of: BestEffectRequest): Promise<GentleSearch> {
    return this.best.begin(await this.sites.get(siteId), of)
  }

  @Post('gentler/:search/stop')
  @HttpCode(200)
  @Answers(GentleSearch)
  stop(@Param('search', IdPipe) id: number): Promise<GentleSearch> {
    return this.gentle.stop(id)
  }

  @Post('gentler/:search/take')
  @HttpCode(200)
  @Answers(GentleSearch)
  async take(@Param('search', IdPipe) id: number): Promise<GentleSearch> {
    const { siteId } = await this.gentle.find(id)
    return this.gentle.take(await this.sites.get(siteId), id)
  }
}
