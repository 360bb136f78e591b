import { Module } from '@nestjs/common'
import { ProofModule } from '../proof/proof.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { PredictionService } from './prediction.service.js'
import { PutLiveService } from './put-live.service.js'
import { RuleController } from './rule.controller.js'

@Module({
  imports: [SiteModule, SweepModule, ProofModule],
  controllers: [RuleController],
  providers: [DraftService, LiveRulesService, PredictionService, PutLiveService],
  exports: [DraftService, LiveRulesService],
})
export class RuleModule {}
