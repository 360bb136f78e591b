import { Controller, Get, Header, HttpCode, Param, Post, Req, StreamableFile } from '@nestjs/common'
import type { Request } from 'express'
import { InventoryTaken } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { UseService } from '../use/use.service.js'
import { bodyText } from './body-text.js'
import { InventoryService } from './inventory.service.js'
import { IdPipe } from '../problem/id.pipe.js'

@Controller('sites/:site')
export class InventoryController {
  constructor(
    private readonly sites: SiteService,
    private readonly inventory: InventoryService,
    private readonly use: UseService,
  ) {}

  @Get('inventory.csv')
  @Header('cache-control', 'no-store')
  async csv(@Param('site', IdPipe) siteId: number): Promise<StreamableFile> {
    const text = await this.inventory.csv(await this.sites.get(siteId))
    return fileOf(text, 'text/csv; charset=utf-8', 'inventory.csv')
  }

  @Get('inventory.cdx.json')
  @Header('cache-control', 'no-store')
  async cycloneDx(@Param('site', IdPipe) siteId: number): Promise<StreamableFile> {
    const document = await this.inventory.cycloneDx(await this.sites.get(siteId))
    return fileOf(JSON.stringify(document, null, 2), 'application/vnd.cyclonedx+json', 'inventory.cdx.json')
  }

  @Post('inventory')
  @HttpCode(200)
  @Answers(InventoryTaken)
  async take(@Param('site', IdPipe) siteId: number, @Req() request: Request): Promise<InventoryTaken> {
    return this.inventory.take(await this.sites.get(siteId), await bodyText(request))
  }

  /** How often visitors touch what: columns page, addon and touches. */
  @Post('touches')
  @HttpCode(200)
  @Answers(InventoryTaken)
  async touches(@Param('site', IdPipe) siteId: number, @Req() request: Request): Promise<InventoryTaken> {
    await this.sites.get(siteId)
    return { added: await this.use.importTouches(siteId, await bodyText(request)), known: 0 }
  }
}

const fileOf = (text: string, type: string, name: string) =>
  new StreamableFile(Buffer.from(text), { type, disposition: `attachment; filename="${name}"` })
