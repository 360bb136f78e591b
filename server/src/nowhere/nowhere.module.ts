import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { NowhereController } from './nowhere.controller.js'
import { NowhereService } from './nowhere.service.js'

@Module({
  imports: [OnDemandModule, SiteModule, SweepModule],
  controllers: [NowhereController],
  providers: [NowhereService],
  exports: [NowhereService],
})
export class NowhereModule {}
