import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { WeighInController } from './weigh-in.controller.js'
import { WeighInService } from './weigh-in.service.js'

@Module({
  imports: [SiteModule, SweepModule, RuleModule],
  controllers: [WeighInController],
  providers: [WeighInService],
})
export class WeighInModule {}
