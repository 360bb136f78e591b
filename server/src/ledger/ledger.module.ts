import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { UseModule } from '../use/use.module.js'
import { CellsService } from './cells.service.js'
import { LedgerController } from './ledger.controller.js'
import { LedgerService } from './ledger.service.js'

@Module({
  imports: [SiteModule, SweepModule, RuleModule, UseModule],
  controllers: [LedgerController],
  providers: [LedgerService, CellsService],
  exports: [LedgerService, CellsService],
})
export class LedgerModule {}
