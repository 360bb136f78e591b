import { Module } from '@nestjs/common'
import { OnDemandService } from './on-demand.service.js'

@Module({ providers: [OnDemandService], exports: [OnDemandService] })
export class OnDemandModule {}
