import { Body, Controller, Delete, Get, Header, HttpCode, Param, ParseIntPipe, Post, Res } from '@nestjs/common'
import type { Response } from 'express'
import { Shelf, WeighIn, WeighInRequest, WeighInSummary } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { notFound } from '../problem/problem.error.js'
import { pictureType } from '../reading/lighter-picture.js'
import { SiteService } from '../site/site.service.js'
import { WeighInService } from './weigh-in.service.js'

/** Variants of pages against each other. */
@Controller()
export class WeighInController {
  constructor(
    private readonly sites: SiteService,
    private readonly weighIns: WeighInService,
  ) {}

  @Get('sites/:site/weigh-ins')
  @Answers(WeighInSummary, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<WeighInSummary[]> {
    return this.weighIns.list({ siteId: (await this.sites.get(siteId)).id })
  }

  @Post('sites/:site/weigh-ins')
  @HttpCode(201)
  @Answers(WeighIn, { status: 201 })
  async start(@Param('site', IdPipe) siteId: number, @Body() wish: WeighInRequest): Promise<WeighIn> {
    return this.weighIns.start(await this.sites.get(siteId), wish)
  }

  /** What the site could try on pages that are measured, installed or not. */
  @Get('sites/:site/shelf')
  @Answers(Shelf)
  async shelf(@Param('site', IdPipe) siteId: number): Promise<Shelf> {
    return this.weighIns.shelf(await this.sites.get(siteId))
  }

  /** What was weighed of an add-on, on whatever site of this Unvelt. */
  @Get('weigh-ins/of/:addOn')
  @Answers(WeighInSummary, { list: true })
  ofAddOn(@Param('addOn') addOn: string): Promise<WeighInSummary[]> {
    return this.weighIns.list({ addOn })
  }

  @Get('weigh-ins/:weighIn')
  @Answers(WeighIn)
  async get(@Param('weighIn', IdPipe) id: number): Promise<WeighIn> {
    return this.weighIns.view(await this.weighIns.get(id))
  }

  @Get('weigh-ins/:weighIn/pages/:page/variants/:variant/picture')
  @Header('cache-control', 'private, max-age=31536000, immutable')
  async picture(
    @Param('weighIn', IdPipe) id: number,
    @Param('page', IdPipe) pageId: number,
    @Param('variant', ParseIntPipe) variant: number,
    @Res() response: Response,
  ): Promise<void> {
    const content = await this.weighIns.picture(await this.weighIns.get(id), pageId, variant)
    if (!content) throw notFound('picture')
    response.type(pictureType(content)).send(content)
  }

  @Delete('weigh-ins/:weighIn')
  @HttpCode(204)
  async remove(@Param('weighIn', IdPipe) id: number): Promise<void> {
    await this.weighIns.remove(await this.weighIns.get(id))
  }
}
