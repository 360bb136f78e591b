import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { SweepModule } from '../sweep/sweep.module.js'
import { UseModule } from '../use/use.module.js'
import { AddOnController } from './add-on.controller.js'
import { AddOnService } from './add-on.service.js'

@Module({
  imports: [SiteModule, SweepModule, UseModule],
  controllers: [AddOnController],
  providers: [AddOnService],
  exports: [AddOnService],
})
export class AddOnModule {}
