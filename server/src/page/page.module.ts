import { Module } from '@nestjs/common'
import { LedgerModule } from '../ledger/ledger.module.js'
import { PageController } from './page.controller.js'
import { PageSheetService } from './page-sheet.service.js'

@Module({ imports: [LedgerModule], controllers: [PageController], providers: [PageSheetService] })
export class PageModule {}
