import { Global, Module } from '@nestjs/common'
import { ReadyAnswers } from './ready-answers.js'
import { SiteVersions } from './site-versions.js'

@Global()
@Module({ providers: [ReadyAnswers, SiteVersions], exports: [ReadyAnswers] })
export class ReadyModule {}
