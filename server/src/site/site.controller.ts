import { Body, Controller, Delete, Get, HttpCode, Param, Patch, Post } from '@nestjs/common'
import { NamedPages, Page, Site, SiteChange, SiteRegistration, SitemapPages } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { PageRow, pageView } from '../page/page.model.js'
import { NamedPagesService } from '../from-outside/named-pages.service.js'
import { sitemapPages } from '../from-outside/sitemap-pages.js'
import { SiteService } from './site.service.js'
import { KeptReady } from '../ready/kept-ready.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites')
export class SiteController {
  constructor(
    private readonly sites: SiteService,
    private readonly named: NamedPagesService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(Site, { list: true })
  list(): Promise<Site[]> {
    return this.sites.list()
  }

  @Post()
  @HttpCode(201)
  @Answers(Site, { status: 201 })
  register(@Body() wish: SiteRegistration): Promise<Site> {
    return wish.withoutConnector ? this.sites.registerFromOutside(wish) : this.sites.register(wish)
  }

  @Get(':site')
  @Answers(Site)
  async get(@Param('site', IdPipe) id: number): Promise<Site> {
    return this.sites.view(await this.sites.get(id))
  }

  @Patch(':site')
  @Answers(Site)
  async change(@Param('site', IdPipe) id: number, @Body() change: SiteChange): Promise<Site> {
    return this.sites.change(await this.sites.get(id), change)
  }

  @Get(':site/pages')
  @KeptReady()
  @Answers(Page, { list: true })
  async pages(@Param('site', IdPipe) siteId: number): Promise<Page[]> {
    await this.sites.get(siteId)
    return (await PageRow.findAll({ where: { siteId, gone: false }, order: ['position'], raw: true })).map(pageView)
  }

  @Get(':site/sitemap')
  @Answers(SitemapPages)
  async sitemap(@Param('site', IdPipe) id: number): Promise<SitemapPages> {
    return sitemapPages(await this.sites.get(id))
  }

  @Post(':site/pages')
  @HttpCode(201)
  @Answers(Page, { list: true, status: 201 })
  async namePages(@Param('site', IdPipe) site: number, @Body() { addresses }: NamedPages): Promise<Page[]> {
    return this.named.name(await this.sites.get(site), addresses)
  }

  @Delete(':site/pages/:page')
  @HttpCode(204)
  async forgetPage(@Param('site', IdPipe) site: number, @Param('page', IdPipe) page: number): Promise<void> {
    await this.named.forget(await this.sites.get(site), page)
  }

  /** Asks the site again for its pages and whatever else it tells. */
  @Post(':site/refresh')
  @HttpCode(200)
  @Answers(Site)
  async refresh(@Param('site', IdPipe) id: number): Promise<Site> {
    const site = await this.sites.get(id)
    await this.sites.refreshSaid(site)
    return this.sites.view(site)
  }
}
