import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { SiteModule } from '../site/site.module.js'
import { StepIdeaController } from './step-idea.controller.js'
import { StepIdeaService } from './step-idea.service.js'

@Module({ imports: [SiteModule, OnDemandModule], controllers: [StepIdeaController], providers: [StepIdeaService] })
export class StepIdeaModule {}
