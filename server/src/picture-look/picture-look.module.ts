import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { PictureLookController } from './picture-look.controller.js'
import { PictureLookService } from './picture-look.service.js'

@Module({
  imports: [OnDemandModule, SiteModule, SweepModule],
  controllers: [PictureLookController],
  providers: [PictureLookService],
})
export class PictureLookModule {}
