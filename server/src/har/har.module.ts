import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { HarController } from './har.controller.js'
import { HarExportService } from './har-export.service.js'
import { HarImportService } from './har-import.service.js'

@Module({
  imports: [SiteModule, SweepModule],
  controllers: [HarController],
  providers: [HarImportService, HarExportService],
})
export class HarModule {}
