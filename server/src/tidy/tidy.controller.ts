import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { SiteKeepings, Tidying, TidyRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { TidyService } from './tidy.service.js'

/** What a site's CMS keeps for nobody. */
@Controller('sites/:site/keepings')
export class TidyController {
  constructor(
    private readonly sites: SiteService,
    private readonly tidies: TidyService,
  ) {}

  @Get()
  @Answers(SiteKeepings)
  async list(@Param('site', IdPipe) siteId: number): Promise<SiteKeepings> {
    return this.tidies.list(await this.sites.get(siteId))
  }

  @Post('tidy')
  @HttpCode(202)
  @Answers(Tidying, { status: 202 })
  async tidy(@Param('site', IdPipe) siteId: number, @Body() wish: TidyRequest): Promise<Tidying> {
    return this.tidies.tidy(await this.sites.get(siteId), wish)
  }
}
