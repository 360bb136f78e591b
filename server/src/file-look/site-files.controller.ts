import { Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common'
import { SiteFiles } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { SiteFilesService } from './site-files.service.js'

@Controller('sites/:site/files')
export class SiteFilesController {
  constructor(
    private readonly sites: SiteService,
    private readonly files: SiteFilesService,
  ) {}

  /** What the scripts and styles of all pages could weigh, as far as they were weighed. */
  @Get()
  @KeptReady()
  @Answers(SiteFiles)
  async view(@Param('site', IdPipe) site: number): Promise<SiteFiles> {
    return this.files.view(await this.sites.get(site))
  }

  @Post()
  @HttpCode(202)
  @Answers(SiteFiles, { status: 202 })
  async start(@Param('site', IdPipe) site: number): Promise<SiteFiles> {
    return this.files.start(await this.sites.get(site))
  }

  /** Stops after the page at hand. */
  @Delete()
  @Answers(SiteFiles)
  async stop(@Param('site', IdPipe) site: number): Promise<SiteFiles> {
    return this.files.stop(await this.sites.get(site))
  }
}
