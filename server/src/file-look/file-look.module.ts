import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { PromiseModule } from '../promise/promise.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { FileLookController } from './file-look.controller.js'
import { SiteFilesController } from './site-files.controller.js'
import { SiteFilesService } from './site-files.service.js'
import { FileLookService } from './file-look.service.js'

@Module({
  imports: [OnDemandModule, PromiseModule, SiteModule, SweepModule],
  controllers: [FileLookController, SiteFilesController],
  providers: [FileLookService, SiteFilesService],
  exports: [SiteFilesService],
})
export class FileLookModule {}
