import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { Deployer } from './deployment/deployer.js'
import { DeploymentController } from './deployment/deployment.controller.js'
import { DeploymentService } from './deployment/deployment.service.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { PredictionService } from './prediction.service.js'
import { RuleController } from './rule.controller.js'

@Module({
  imports: [SiteModule, SweepModule],
  controllers: [RuleController, DeploymentController],
  providers: [DraftService, LiveRulesService, PredictionService, DeploymentService, Deployer],
  exports: [DraftService, LiveRulesService, DeploymentService],
})
export class RuleModule {}
