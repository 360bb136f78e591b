import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { StepController } from './step.controller.js'
import { StepService } from './step.service.js'

@Module({ imports: [SiteModule], controllers: [StepController], providers: [StepService] })
export class StepModule {}
