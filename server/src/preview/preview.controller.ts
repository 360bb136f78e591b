import { Body, Controller, Delete, Get, HttpCode, Param, Patch, Post, Req } from '@nestjs/common'
import type { Request } from 'express'
import { Preview, PreviewChange, PreviewRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { PreviewService } from './preview.service.js'

/** The real pages as drafts would make them. */
@Controller()
export class PreviewController {
  constructor(
    private readonly sites: SiteService,
    private readonly previews: PreviewService,
  ) {}

  @Post('sites/:site/previews')
  @HttpCode(201)
  @Answers(Preview, { status: 201 })
  async open(
    @Param('site', IdPipe) siteId: number,
    @Body() wish: PreviewRequest,
    @Req() request: Request,
  ): Promise<Preview> {
    return this.previews.open(await this.sites.get(siteId), wish, request.get('origin') ?? null)
  }

  @Get('previews/:preview')
  @Answers(Preview)
  get(@Param('preview') id: string): Preview {
    return this.previews.get(id)
  }

  @Patch('previews/:preview')
  @Answers(Preview)
  change(@Param('preview') id: string, @Body() wish: PreviewChange): Preview {
    return this.previews.change(id, wish)
  }

  @Delete('previews/:preview')
  @HttpCode(204)
  close(@Param('preview') id: string): void {
    this.previews.close(id)
  }
}
