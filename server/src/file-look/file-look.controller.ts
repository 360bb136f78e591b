import { Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { FileLookView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { FileLookService } from './file-look.service.js'

@Controller('sites/:site/pages/:page/files')
export class FileLookController {
  constructor(
    private readonly sites: SiteService,
    private readonly looks: FileLookService,
  ) {}

  /** What the page’s scripts and styles could weigh, as it was looked at last. */
  @Get()
  @Answers(FileLookView)
  async view(@Param('site', IdPipe) site: number, @Param('page', IdPipe) page: number): Promise<FileLookView> {
    return this.looks.view(await this.sites.get(site), page)
  }

  @Post()
  @HttpCode(202)
  @Answers(FileLookView, { status: 202 })
  async start(@Param('site', IdPipe) site: number, @Param('page', IdPipe) page: number): Promise<FileLookView> {
    return this.looks.start(await this.sites.get(site), page)
  }
}
