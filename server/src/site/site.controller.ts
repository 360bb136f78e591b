import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common'
import { AddOn, Page, Site, SiteRegistration } from '@unvelt/contract'
import { AddOnRow, addOnView } from '../add-on/add-on.model.js'
import { Answers } from '../openapi/answers.js'
import { PageRow, pageView } from '../page/page.model.js'
import { SiteService } from './site.service.js'

@Controller('sites')
export class SiteController {
  constructor(private readonly sites: SiteService) {}

  @Get()
  @Answers(Site, { list: true })
  list(): Promise<Site[]> {
    return this.sites.list()
  }

  @Post()
  @HttpCode(201)
  @Answers(Site, { status: 201 })
  register(@Body() { address, connectorKey }: SiteRegistration): Promise<Site> {
    return this.sites.register(address, connectorKey ?? '')
  }

  @Get(':site')
  @Answers(Site)
  async get(@Param('site', ParseIntPipe) id: number): Promise<Site> {
    return this.sites.view(await this.sites.get(id))
  }

  @Get(':site/pages')
  @Answers(Page, { list: true })
  async pages(@Param('site', ParseIntPipe) siteId: number): Promise<Page[]> {
    await this.sites.get(siteId)
    return (await PageRow.findAll({ where: { siteId }, order: ['position'] })).map(pageView)
  }

  @Get(':site/add-ons')
  @Answers(AddOn, { list: true })
  async addOns(@Param('site', ParseIntPipe) siteId: number): Promise<AddOn[]> {
    await this.sites.get(siteId)
    return (await AddOnRow.findAll({ where: { siteId }, order: ['name'] })).map(addOnView)
  }
}
