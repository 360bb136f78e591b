import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common'
import { PictureLookRequest, SitePictures } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { SitePicturesService } from './site-pictures.service.js'

@Controller('sites/:site/pictures')
export class SitePicturesController {
  constructor(
    private readonly sites: SiteService,
    private readonly pictures: SitePicturesService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(SitePictures)
  async view(@Param('site', IdPipe) site: number): Promise<SitePictures> {
    return this.pictures.view(await this.sites.get(site))
  }

  @Post()
  @HttpCode(202)
  @Answers(SitePictures, { status: 202 })
  async start(@Param('site', IdPipe) site: number, @Body() request: PictureLookRequest): Promise<SitePictures> {
    return this.pictures.start(await this.sites.get(site), request)
  }

  /** Looks at no more pages; what was looked at stays. */
  @Delete()
  @Answers(SitePictures)
  async stop(@Param('site', IdPipe) site: number): Promise<SitePictures> {
    return this.pictures.stop(await this.sites.get(site))
  }
}
