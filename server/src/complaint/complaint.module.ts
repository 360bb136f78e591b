import { Module } from '@nestjs/common'
import { SweepModule } from '../sweep/sweep.module.js'
import { ComplaintController } from './complaint.controller.js'
import { ComplaintService } from './complaint.service.js'

@Module({ imports: [SweepModule], controllers: [ComplaintController], providers: [ComplaintService] })
export class ComplaintModule {}
