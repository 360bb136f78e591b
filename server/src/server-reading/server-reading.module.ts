import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { ServerReadingController } from './server-reading.controller.js'
import { ServerReadingService } from './server-reading.service.js'

@Module({ imports: [OnDemandModule], controllers: [ServerReadingController], providers: [ServerReadingService] })
export class ServerReadingModule {}
