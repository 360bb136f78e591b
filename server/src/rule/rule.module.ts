import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { DraftService } from './draft.service.js'
import { LintService } from './lint.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { PredictionService } from './prediction.service.js'
import { RuleController } from './rule.controller.js'

@Module({
  imports: [SiteModule, SweepModule],
  controllers: [RuleController],
  providers: [DraftService, LintService, LiveRulesService, PredictionService],
  exports: [DraftService, LiveRulesService, PredictionService],
})
export class RuleModule {}
