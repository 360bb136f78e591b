import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { CauseController } from './cause.controller.js'
import { CauseService } from './cause.service.js'
import { ComplaintController } from './complaint.controller.js'
import { ComplaintService } from './complaint.service.js'
import { SmallerPageController } from './smaller-page.controller.js'
import { SmallerPageService } from './smaller-page.service.js'

@Module({
  imports: [SweepModule, OnDemandModule],
  controllers: [ComplaintController, CauseController, SmallerPageController],
  providers: [ComplaintService, CauseService, SmallerPageService],
})
export class ComplaintModule {}
