import { Module } from '@nestjs/common'
import { ServerReadingController } from './server-reading.controller.js'
import { ServerReadingService } from './server-reading.service.js'

@Module({ controllers: [ServerReadingController], providers: [ServerReadingService] })
export class ServerReadingModule {}
