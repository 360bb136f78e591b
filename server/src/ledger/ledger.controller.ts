import { Controller, Get, Param, ParseIntPipe, Query } from '@nestjs/common'
import { Ledger } from '@unvelt/contract'
import { Answers } from '../openapi/answers.js'
import { SiteService } from '../site/site.service.js'
import { LedgerService } from './ledger.service.js'

@Controller('sites/:site/ledger')
export class LedgerController {
  constructor(
    private readonly sites: SiteService,
    private readonly ledgers: LedgerService,
  ) {}

  @Get()
  @Answers(Ledger)
  async get(
    @Param('site', ParseIntPipe) siteId: number,
    @Query('sweep', new ParseIntPipe({ optional: true })) sweepId?: number,
  ): Promise<Ledger> {
    await this.sites.get(siteId)
    return this.ledgers.ledger(siteId, await this.ledgers.sweepToShow(siteId, sweepId))
  }
}
