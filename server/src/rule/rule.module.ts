import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { DraftService } from './draft.service.js'
import { LintService } from './lint.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { LocalCopiesService } from './local-copies.service.js'
import { ParticularsService } from './particulars.service.js'
import { PredictionService } from './prediction.service.js'
import { RuleSavingsService } from './rule-savings.service.js'
import { RuleController } from './rule.controller.js'

@Module({
  imports: [SiteModule, SweepModule],
  controllers: [RuleController],
  providers: [
    DraftService,
    LintService,
    LiveRulesService,
    LocalCopiesService,
    ParticularsService,
    PredictionService,
    RuleSavingsService,
  ],
  exports: [DraftService, LiveRulesService, PredictionService],
})
export class RuleModule {}
