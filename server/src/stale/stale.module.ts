import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { StaleController } from './stale.controller.js'
import { StaleService } from './stale.service.js'

@Module({ imports: [SiteModule, SweepModule], controllers: [StaleController], providers: [StaleService] })
export class StaleModule {}
