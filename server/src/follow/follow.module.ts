import { Module } from '@nestjs/common'
import { DeploymentModule } from '../rule/deployment/deployment.module.js'
import { RehearsalModule } from '../rehearsal/rehearsal.module.js'
import { PreviewModule } from '../preview/preview.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { FollowController } from './follow.controller.js'

@Module({ imports: [SweepModule, DeploymentModule, RehearsalModule, PreviewModule], controllers: [FollowController] })
export class FollowModule {}
