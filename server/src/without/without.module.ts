import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { WithoutController } from './without.controller.js'
import { WithoutService } from './without.service.js'

@Module({
  imports: [OnDemandModule, SiteModule, SweepModule],
  controllers: [WithoutController],
  providers: [WithoutService],
})
export class WithoutModule {}
