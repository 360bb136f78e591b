import { Module } from '@nestjs/common'
import { OnDemandModule } from '../on-demand/on-demand.module.js'
import { ActionController } from './action.controller.js'
import { ActionService } from './action.service.js'

@Module({ imports: [OnDemandModule], controllers: [ActionController], providers: [ActionService] })
export class ActionModule {}
