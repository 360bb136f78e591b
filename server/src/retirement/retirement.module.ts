import { Module } from '@nestjs/common'
import { RehearsalModule } from '../rehearsal/rehearsal.module.js'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { StandingModule } from '../standing/standing.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { RetirementController } from './retirement.controller.js'
import { RetirementSheets } from './retirement-sheets.js'
import { RetirementService } from './retirement.service.js'

@Module({
  imports: [RuleModule, SiteModule, SweepModule, StandingModule, RehearsalModule],
  controllers: [RetirementController],
  providers: [RetirementService, RetirementSheets],
})
export class RetirementModule {}
