import { Module } from '@nestjs/common'
import { RehearsalModule } from '../rehearsal/rehearsal.module.js'
import { RuleModule } from '../rule/rule.module.js'
import { CulpritController } from './culprit.controller.js'
import { CulpritService } from './culprit.service.js'

@Module({
  imports: [RehearsalModule, RuleModule],
  controllers: [CulpritController],
  providers: [CulpritService],
})
export class CulpritModule {}
