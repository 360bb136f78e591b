import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { PaperController } from './paper.controller.js'
import { PaperService } from './paper.service.js'

@Module({ imports: [SiteModule], controllers: [PaperController], providers: [PaperService] })
export class PaperModule {}
