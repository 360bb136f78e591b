import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { StorageController } from './storage.controller.js'
import { StorageService } from './storage.service.js'

@Module({ imports: [SiteModule, SweepModule], controllers: [StorageController], providers: [StorageService] })
export class StorageModule {}
