import { Controller, HttpCode, Param, Post, Req } from '@nestjs/common'
import type { Request } from 'express'
import { PageViewImport } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { ProblemError } from '../problem/problem.error.js'
import { SiteService } from '../site/site.service.js'
import { PageViewService } from './page-view.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/page-views')
export class PageViewController {
  constructor(
    private readonly sites: SiteService,
    private readonly views: PageViewService,
  ) {}

  /** The file is the body: `text/csv` for a table, `text/plain` for a log in combined log format. Read as it comes. */
  @Post()
  @HttpCode(200)
  @Answers(PageViewImport)
  async take(@Param('site', IdPipe) siteId: number, @Req() request: Request): Promise<PageViewImport> {
    const site = await this.sites.get(siteId)
    const body = request as AsyncIterable<Uint8Array>
    if (request.is('text/csv')) return this.views.takeTable(site, body)
    if (request.is('text/plain')) return this.views.takeLog(site, body)
    throw new ProblemError(415, 'Expected a log as text/plain or a table as text/csv.')
  }
}
