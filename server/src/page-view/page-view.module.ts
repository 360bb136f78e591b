import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { PageViewController } from './page-view.controller.js'
import { PageViewService } from './page-view.service.js'

@Module({ imports: [SiteModule], controllers: [PageViewController], providers: [PageViewService] })
export class PageViewModule {}
