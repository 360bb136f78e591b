import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SnapshotController } from './snapshot.controller.js'
import { SnapshotService } from './snapshot.service.js'

@Module({ imports: [SiteModule], controllers: [SnapshotController], providers: [SnapshotService] })
export class SnapshotModule {}
