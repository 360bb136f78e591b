import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { FileLookController } from './file-look.controller.js'
import { FileLookService } from './file-look.service.js'

@Module({
  imports: [OnDemandModule, SiteModule, SweepModule],
  controllers: [FileLookController],
  providers: [FileLookService],
})
export class FileLookModule {}
