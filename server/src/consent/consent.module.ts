import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { ConsentController } from './consent.controller.js'
import { ConsentService } from './consent.service.js'

@Module({
  imports: [OnDemandModule, SiteModule],
  controllers: [ConsentController],
  providers: [ConsentService],
})
export class ConsentModule {}
