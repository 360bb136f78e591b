import { Module } from '@nestjs/common'
import { RehearsalModule } from '../rehearsal/rehearsal.module.js'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { BestEffectService } from './best-effect.service.js'
import { GentleController } from './gentle.controller.js'
import { GentleService } from './gentle.service.js'

@Module({
  imports: [RehearsalModule, RuleModule, SiteModule],
  controllers: [GentleController],
  providers: [BestEffectService, GentleService],
})
export class GentleModule {}
