import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { LiveRoundService } from './live-round.service.js'
import { RehearsalController } from './rehearsal.controller.js'
import { RehearsalService } from './rehearsal.service.js'

@Module({
  imports: [SiteModule, SweepModule, RuleModule],
  controllers: [RehearsalController],
  providers: [RehearsalService, LiveRoundService],
  exports: [RehearsalService],
})
export class RehearsalModule {}
