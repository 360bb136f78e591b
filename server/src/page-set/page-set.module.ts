import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { PageSetController } from './page-set.controller.js'
import { PageSetService } from './page-set.service.js'

@Module({ imports: [SiteModule, RuleModule], controllers: [PageSetController], providers: [PageSetService] })
export class PageSetModule {}
