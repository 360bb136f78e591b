import { Body, Controller, Get, HttpCode, Param, Post, Res } from '@nestjs/common'
import { ApiResponse } from '@nestjs/swagger'
import type { Response } from 'express'
import { Paper, PaperRequest } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { paperView } from './paper.model.js'
import { PaperService } from './paper.service.js'

@Controller()
export class PaperController {
  constructor(
    private readonly sites: SiteService,
    private readonly papers: PaperService,
  ) {}

  @Post('sites/:site/papers')
  @HttpCode(202)
  @Answers(Paper, { status: 202 })
  async print(@Param('site', IdPipe) siteId: number, @Body() wish: PaperRequest): Promise<Paper> {
    return paperView(await this.papers.print(await this.sites.get(siteId), wish))
  }

  @Get('papers/:paper')
  @Answers(Paper)
  async get(@Param('paper', IdPipe) id: number): Promise<Paper> {
    return paperView(await this.papers.get(id), await this.papers.waits())
  }

  @Get('papers/:paper/pdf')
  @ApiResponse({ status: 200, description: 'The document as PDF' })
  async pdf(@Param('paper', IdPipe) id: number, @Res() response: Response): Promise<void> {
    const { title, pdf } = await this.papers.pdf(id)
    response.attachment(`${title}.pdf`).type('application/pdf').send(pdf)
  }
}
