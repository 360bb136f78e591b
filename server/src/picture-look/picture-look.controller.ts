import { Body, Controller, Get, HttpCode, Param, Post, Query, Res } from '@nestjs/common'
import { ApiResponse } from '@nestjs/swagger'
import type { Response } from 'express'
import { PictureLookRequest, PictureLookView } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { PictureLookService } from './picture-look.service.js'

@Controller('sites/:site/pages/:page/pictures')
export class PictureLookController {
  constructor(
    private readonly sites: SiteService,
    private readonly looks: PictureLookService,
  ) {}

  @Get()
  @Answers(PictureLookView)
  async view(@Param('site', IdPipe) site: number, @Param('page', IdPipe) page: number): Promise<PictureLookView> {
    return this.looks.view(await this.sites.get(site), page)
  }

  @Post()
  @HttpCode(202)
  @Answers(PictureLookView, { status: 202 })
  async start(
    @Param('site', IdPipe) site: number,
    @Param('page', IdPipe) page: number,
    @Body() request: PictureLookRequest,
  ): Promise<PictureLookView> {
    return this.looks.start(await this.sites.get(site), page, request)
  }

  /** One picture of the newest look: as it was, or as it was made anew. */
  @Get('files/:n/:as')
  @ApiResponse({ status: 200, description: 'The picture' })
  async file(
    @Param('site', IdPipe) site: number,
    @Param('page', IdPipe) page: number,
    @Param('n') n: string,
    @Param('as') as: string,
    @Query('look') look: string | undefined,
    @Res() response: Response,
  ): Promise<void> {
    const { type, content } = await this.looks.file(await this.sites.get(site), page, {
      n: Number(n),
      as,
      look: look === undefined ? undefined : Number(look),
    })
    // What a site sent is shown as a picture and as nothing else, and runs nothing.
    response.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'; sandbox")
    response.type(type).send(content)
  }
}
