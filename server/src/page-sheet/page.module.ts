import { Module } from '@nestjs/common'
import { SweepModule } from '../sweep/sweep.module.js'
import { PageController } from './page.controller.js'
import { PageSheetService } from './page-sheet.service.js'

@Module({ imports: [SweepModule], controllers: [PageController], providers: [PageSheetService] })
export class PageModule {}
