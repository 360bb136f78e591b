import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { TidyController } from './tidy.controller.js'
import { TidyService } from './tidy.service.js'

@Module({ imports: [SiteModule], controllers: [TidyController], providers: [TidyService] })
export class TidyModule {}
