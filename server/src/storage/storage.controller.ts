import { Body, Controller, Delete, Get, HttpCode, Param, Put, Query } from '@nestjs/common'
import { KeepFull, SiteFarewell, Storage, WouldGo } from '@unvelt/contract'
import { KeptReady } from '../ready/kept-ready.js'
import { Answers } from '../openapi/answers.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { StorageService } from './storage.service.js'

/** What a site takes in the database, and what of it goes. */
@Controller()
export class StorageController {
  constructor(
    private readonly sites: SiteService,
    private readonly storage: StorageService,
  ) {}

  @Get('sites/:site/storage')
  @KeptReady()
  @Answers(Storage)
  async view(@Param('site', IdPipe) siteId: number): Promise<Storage> {
    await this.sites.get(siteId)
    return this.storage.view(siteId)
  }

  /** What would go if only so many sweeps a lens were kept in full. */
  @Get('sites/:site/storage/would-go')
  @KeptReady()
  @Answers(WouldGo)
  async wouldGo(
    @Param('site', IdPipe) siteId: number,
    @Query('keepFull', WholePipe) keepFull?: number,
  ): Promise<WouldGo> {
    await this.sites.get(siteId)
    return this.storage.wouldGo(siteId, keepFull ?? null)
  }

  @Put('sites/:site/storage/keep-full')
  @Answers(Storage)
  async keepFull(@Param('site', IdPipe) siteId: number, @Body() { keepFull }: KeepFull): Promise<Storage> {
    return this.storage.keepFull(await this.sites.get(siteId), keepFull)
  }

  /** Deletes a survey. @returns what is left. */
  @Delete('sweeps/:sweep')
  @Answers(Storage)
  deleteSweep(@Param('sweep', IdPipe) id: number): Promise<Storage> {
    return this.storage.deleteSweep(id)
  }

  /** Deletes all that is known of a site. */
  @Delete('sites/:site')
  @HttpCode(204)
  async deleteSite(@Param('site', IdPipe) id: number, @Body() { name }: SiteFarewell): Promise<void> {
    await this.storage.deleteSite(await this.sites.get(id), name)
  }
}
