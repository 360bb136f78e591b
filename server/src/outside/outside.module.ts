import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { OutsideController } from './outside.controller.js'
import { OutsideService } from './outside.service.js'

@Module({ imports: [SiteModule, SweepModule], controllers: [OutsideController], providers: [OutsideService] })
export class OutsideModule {}
