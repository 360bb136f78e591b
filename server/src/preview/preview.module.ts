import { Module } from '@nestjs/common'
import { RuleModule } from '../rule/rule.module.js'
import { SiteModule } from '../site/site.module.js'
import { PreviewController } from './preview.controller.js'
import { PreviewService } from './preview.service.js'

@Module({
  imports: [SiteModule, RuleModule],
  controllers: [PreviewController],
  providers: [PreviewService],
  exports: [PreviewService],
})
export class PreviewModule {}
