import { Module } from '@nestjs/common'
import { SweepModule } from '../sweep/sweep.module.js'
import { CauseController } from './cause.controller.js'
import { CauseService } from './cause.service.js'
import { ComplaintController } from './complaint.controller.js'
import { ComplaintService } from './complaint.service.js'

@Module({
  imports: [SweepModule],
  controllers: [ComplaintController, CauseController],
  providers: [ComplaintService, CauseService],
})
export class ComplaintModule {}
