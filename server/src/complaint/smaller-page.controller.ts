import { Controller, Get, HttpCode, Param, Post, Res } from '@nestjs/common'
import { ApiResponse } from '@nestjs/swagger'
import type { Response } from 'express'
import { SmallerPage } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SmallerPageService } from './smaller-page.service.js'

/** The smallest page that shows what a page complains of. */
@Controller('cause-searches/:search/smaller')
export class SmallerPageController {
  constructor(private readonly pages: SmallerPageService) {}

  @Get()
  @Answers(SmallerPage)
  view(@Param('search', IdPipe) id: number): Promise<SmallerPage> {
    return this.pages.view(id)
  }

  @Post()
  @HttpCode(202)
  @Answers(SmallerPage, { status: 202 })
  start(@Param('search', IdPipe) id: number): Promise<SmallerPage> {
    return this.pages.start(id)
  }

  @Post('stop')
  @HttpCode(200)
  @Answers(SmallerPage)
  stop(@Param('search', IdPipe) id: number): Promise<SmallerPage> {
    return this.pages.stop(id)
  }

  /** It is a measured site's own code: to be kept, and to be run in no page of ours. */
  @Get('file')
  @ApiResponse({ status: 200, description: 'The page as a file that finds the rest of what it needs at the site' })
  async file(@Param('search', IdPipe) id: number, @Res() response: Response): Promise<void> {
    const body = await this.pages.file(id)
    response.setHeader('content-security-policy', 'sandbox')
    response.attachment('smallest-page.html').send(body)
  }
}
