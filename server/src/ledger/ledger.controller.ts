import { Controller, Get, Param, ParseIntPipe, Query } from '@nestjs/common'
import { Ledger } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { notFound } from '../problem/problem.error.js'
import { SweepService } from '../sweep/sweep.service.js'
import { LedgerService } from './ledger.service.js'

@Controller('sites/:site/ledger')
export class LedgerController {
  constructor(
    private readonly sites: SiteService,
    private readonly sweeps: SweepService,
    private readonly ledgers: LedgerService,
  ) {}

  @Get()
  @Answers(Ledger)
  async get(
    @Param('site', ParseIntPipe) siteId: number,
    @Query('sweep', new ParseIntPipe({ optional: true })) sweepId?: number,
  ): Promise<Ledger> {
    await this.sites.get(siteId)
    const sweep = sweepId === undefined ? await this.sweeps.toShow(siteId) : await this.sweeps.get(sweepId)
    if (sweep && sweep.siteId !== siteId) throw notFound('sweep of this site')
    return this.ledgers.ledger(siteId, sweep)
  }
}
