import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common'
import { RestoreRequest, SiteRestore, SiteSnapshots, SnapshotInside } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { IdPipe } from '../problem/id.pipe.js'
import { SiteService } from '../site/site.service.js'
import { SnapshotService } from './snapshot.service.js'

/** A site's snapshots. */
@Controller('sites/:site/snapshots')
export class SnapshotController {
  constructor(
    private readonly sites: SiteService,
    private readonly snapshots: SnapshotService,
  ) {}

  @Get()
  @Answers(SiteSnapshots)
  async list(@Param('site', IdPipe) siteId: number): Promise<SiteSnapshots> {
    return this.snapshots.list(await this.sites.get(siteId))
  }

  /** What is in one, summed up anew, and what has changed since. */
  @Get(':snapshot')
  @Answers(SnapshotInside)
  async inside(@Param('site', IdPipe) siteId: number, @Param('snapshot', IdPipe) id: number): Promise<SnapshotInside> {
    return this.snapshots.inside(await this.sites.get(siteId), id)
  }

  @Post(':snapshot/restore')
  @HttpCode(202)
  @Answers(SiteRestore, { status: 202 })
  async restore(
    @Param('site', IdPipe) siteId: number,
    @Param('snapshot', IdPipe) id: number,
    @Body() wish: RestoreRequest,
  ): Promise<SiteRestore> {
    return this.snapshots.restore(await this.sites.get(siteId), id, wish)
  }
}
