import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { PromiseModule } from '../promise/promise.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { PictureLookController } from './picture-look.controller.js'
import { PictureLookService } from './picture-look.service.js'
import { SitePicturesController } from './site-pictures.controller.js'
import { SitePicturesService } from './site-pictures.service.js'

@Module({
  imports: [OnDemandModule, PromiseModule, SiteModule, SweepModule],
  controllers: [PictureLookController, SitePicturesController],
  providers: [PictureLookService, SitePicturesService],
  exports: [SitePicturesService],
})
export class PictureLookModule {}
