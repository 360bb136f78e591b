import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { VerifyController } from './verify.controller.js'
import { VerifyService } from './verify.service.js'

@Module({
  imports: [OnDemandModule, RuleModule, SiteModule, SweepModule],
  controllers: [VerifyController],
  providers: [VerifyService],
})
export class VerifyModule {}
