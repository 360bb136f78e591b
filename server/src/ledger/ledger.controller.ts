import { Controller, Get, Param, Query, StreamableFile } from '@nestjs/common'
import { Ledger, LedgerDetail } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { KeptReady } from '../ready/kept-ready.js'
import { SiteService } from '../site/site.service.js'
import { notFound } from '../problem/problem.error.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { CellsService } from './cells.service.js'
import { LedgerService } from './ledger.service.js'
import { IdPipe, WholePipe } from '../problem/id.pipe.js'

@Controller('sites/:site/ledger')
export class LedgerController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly ledgers: LedgerService,
    private readonly packs: CellsService,
  ) {}

  @Get()
  @KeptReady()
  @Answers(Ledger)
  async get(@Param('site', IdPipe) siteId: number, @Query('sweep', WholePipe) sweepId?: number): Promise<Ledger> {
    return this.ledgers.ledger(siteId, await this.asked(siteId, sweepId))
  }

  /** The cells as columns of bytes; `packCells` in the contract says in which order. */
  @Get('cells')
  @KeptReady()
  async cells(@Param('site', IdPipe) siteId: number, @Query('sweep', IdPipe) sweepId: number): Promise<StreamableFile> {
    const sweep = (await this.asked(siteId, sweepId))!
    return new StreamableFile(await this.packs.of(sweep), { type: 'application/octet-stream' })
  }

  /** Features and files of one add-on, page by page. */
  @Get('details')
  @KeptReady()
  @Answers(LedgerDetail)
  async detail(
    @Param('site', IdPipe) siteId: number,
    @Query('sweep', IdPipe) sweepId: number,
    @Query('payer') payer: string,
  ): Promise<LedgerDetail> {
    return this.ledgers.detail(siteId, (await this.asked(siteId, sweepId))!, payer ?? '')
  }

  private async asked(siteId: number, sweepId: number | undefined): Promise<SweepRow | null> {
    await this.sites.get(siteId)
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (sweep && sweep.siteId !== siteId) throw notFound('sweep of this site')
    return sweep
  }
}
