import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common'
import { PageSet, PageSetChanged, PageSetInput } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { PageSetService } from './page-set.service.js'

/** Pages that have a name together, for rules to say. */
@Controller('sites/:site/page-sets')
export class PageSetController {
  constructor(
    private readonly sites: SiteService,
    private readonly sets: PageSetService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(PageSet, { list: true })
  async list(@Param('site', IdPipe) siteId: number): Promise<PageSet[]> {
    await this.sites.get(siteId)
    return this.sets.list(siteId)
  }

  @Post()
  @HttpCode(201)
  @Answers(PageSet, { list: true, status: 201 })
  async add(@Param('site', IdPipe) siteId: number, @Body() input: PageSetInput): Promise<PageSet[]> {
    return this.sets.add(await this.sites.get(siteId), input)
  }

  @Put(':set')
  @Answers(PageSetChanged)
  async change(
    @Param('site', IdPipe) siteId: number,
    @Param('set', IdPipe) id: number,
    @Body() input: PageSetInput,
  ): Promise<PageSetChanged> {
    return this.sets.change(await this.sites.get(siteId), id, input)
  }

  @Delete(':set')
  @Answers(PageSet, { list: true })
  async remove(@Param('site', IdPipe) siteId: number, @Param('set', IdPipe) id: number): Promise<PageSet[]> {
    return this.sets.remove(await this.sites.get(siteId), id)
  }
}
