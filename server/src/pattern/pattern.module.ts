import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { PatternController } from './pattern.controller.js'
import { PatternService } from './pattern.service.js'

@Module({ imports: [SiteModule], controllers: [PatternController], providers: [PatternService] })
export class PatternModule {}
