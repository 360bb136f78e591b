import { Module } from '@nestjs/common'
import { NamedPagesService } from '../from-outside/named-pages.service.js'
import { CertificateController } from './certificate.controller.js'
import { SiteController } from './site.controller.js'
import { SiteService } from './site.service.js'

@Module({
  controllers: [SiteController, CertificateController],
  providers: [SiteService, NamedPagesService],
  exports: [SiteService],
})
export class SiteModule {}
