import { Module } from '@nestjs/common'
import { AddOnModule } from '../add-on/add-on.module.js'
import { FileLookModule } from '../file-look/file-look.module.js'
import { LedgerModule } from '../ledger/ledger.module.js'
import { NowhereModule } from '../nowhere/nowhere.module.js'
import { PictureLookModule } from '../picture-look/picture-look.module.js'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { UseModule } from '../use/use.module.js'
import { SiteCasesService } from './site-cases.service.js'
import { StandingController } from './standing.controller.js'
import { StandingService } from './standing.service.js'

@Module({
  imports: [
    FileLookModule,
    NowhereModule,
    PictureLookModule,
    SiteModule,
    SweepModule,
    LedgerModule,
    AddOnModule,
    UseModule,
  ],
  controllers: [StandingController],
  providers: [StandingService, SiteCasesService],
  exports: [SiteCasesService],
})
export class StandingModule {}
