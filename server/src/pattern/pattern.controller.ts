import { Body, Controller, Delete, Get, HttpCode, Param, Post } from '@nestjs/common'
import { PatternInput, Patterns } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { SiteService } from '../site/site.service.js'
import { PatternService } from './pattern.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site/patterns')
export class PatternController {
  constructor(
    private readonly sites: SiteService,
    private readonly patterns: PatternService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(Patterns)
  async list(@Param('site', IdPipe) siteId: number): Promise<Patterns> {
    await this.sites.get(siteId)
    return this.patterns.list(siteId)
  }

  @Post()
  @HttpCode(201)
  @Answers(Patterns, { status: 201 })
  async add(@Param('site', IdPipe) siteId: number, @Body() input: PatternInput): Promise<Patterns> {
    await this.sites.get(siteId)
    return this.patterns.add(siteId, input)
  }

  @Delete(':pattern')
  @Answers(Patterns)
  remove(@Param('site', IdPipe) siteId: number, @Param('pattern', IdPipe) id: number): Promise<Patterns> {
    return this.patterns.remove(siteId, id)
  }
}
