import { Module } from '@nestjs/common'
import { SiteModule } from '../site/site.module.js'
import { LensController } from './lens.controller.js'
import { LensService } from './lens.service.js'
import { SignInService } from './sign-in.service.js'

@Module({ imports: [SiteModule], controllers: [LensController], providers: [LensService, SignInService] })
export class LensModule {}
