import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { PromiseController } from './promise.controller.js'
import { PromiseService } from './promise.service.js'

@Module({
  imports: [SiteModule, SweepModule],
  controllers: [PromiseController],
  providers: [PromiseService],
  exports: [PromiseService],
})
export class PromiseModule {}
