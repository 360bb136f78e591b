import { Module } from '@nestjs/common'
import { RehearsalModule } from '../../rehearsal/rehearsal.module.js'
import { SiteModule } from '../../site/site.module.js'
import { SweepModule } from '../../sweep/sweep.module.js'
import { RuleModule } from '../rule.module.js'
import { Deployer } from './deployer.js'
import { DeploymentController } from './deployment.controller.js'
import { DeploymentService } from './deployment.service.js'
import { PutOffController } from './put-off.controller.js'
import { PutOffService } from './put-off.service.js'

@Module({
  imports: [SiteModule, SweepModule, RuleModule, RehearsalModule],
  controllers: [DeploymentController, PutOffController],
  providers: [DeploymentService, PutOffService, Deployer],
  exports: [DeploymentService],
})
export class DeploymentModule {}
