import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepController } from './sweep.controller.js'
import { SweepService } from './sweep.service.js'

@Module({ imports: [SiteModule], controllers: [SweepController], providers: [SweepService], exports: [SweepService] })
export class SweepModule {}
