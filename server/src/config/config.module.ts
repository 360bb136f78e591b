import { Global, Module } from '@nestjs/common'
import { readConfig } from './config.js'

export const CONFIG = Symbol('config')

@Global()
@Module({ providers: [{ provide: CONFIG, useFactory: () => readConfig() }], exports: [CONFIG] })
export class ConfigModule {}
