import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { StepTrialController } from './step-trial.controller.js'
import { StepTrialService } from './step-trial.service.js'

@Module({ imports: [SiteModule, OnDemandModule], controllers: [StepTrialController], providers: [StepTrialService] })
export class StepTrialModule {}
