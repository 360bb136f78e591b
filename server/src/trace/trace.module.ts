import { Module } from '@nestjs/common'
import { SiteTracesController } from './site-traces.controller.js'
import { TraceController } from './trace.controller.js'
import { TraceService } from './trace.service.js'

@Module({ controllers: [TraceController, SiteTracesController], providers: [TraceService] })
export class TraceModule {}
