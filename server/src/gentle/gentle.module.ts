import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { GentleController } from './gentle.controller.js'
import { GentleService } from './gentle.service.js'

@Module({
  imports: [RuleModule, SiteModule],
  controllers: [GentleController],
  providers: [GentleService],
})
export class GentleModule {}
