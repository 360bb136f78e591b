import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { FollowController } from './follow.controller.js'

@Module({ imports: [SweepModule, RuleModule], controllers: [FollowController] })
export class FollowModule {}
