import { Module } from '@nestjs/common'
import { AddOnModule } from '../add-on/add-on.module.js'
import { SiteModule } from '../site/site.module.js'
import { UseModule } from '../use/use.module.js'
import { InventoryController } from './inventory.controller.js'
import { InventoryService } from './inventory.service.js'

@Module({
  imports: [SiteModule, AddOnModule, UseModule],
  controllers: [InventoryController],
  providers: [InventoryService],
})
export class InventoryModule {}
