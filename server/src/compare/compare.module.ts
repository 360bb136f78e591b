import { Module } from '@nestjs/common'
import { LedgerModule } from '../ledger/ledger.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { CompareController } from './compare.controller.js'
import { CompareService } from './compare.service.js'

@Module({
  imports: [SiteModule, SweepModule, LedgerModule],
  controllers: [CompareController],
  providers: [CompareService],
})
export class CompareModule {}
