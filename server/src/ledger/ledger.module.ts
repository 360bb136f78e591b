import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { UseModule } from '../use/use.module.js'
import { LedgerController } from './ledger.controller.js'
import { LedgerService } from './ledger.service.js'

@Module({
  imports: [SiteModule, SweepModule, RuleModule, UseModule],
  controllers: [LedgerController],
  providers: [LedgerService],
  exports: [LedgerService],
})
export class LedgerModule {}
