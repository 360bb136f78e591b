import { Module } from '@nestjs/common'
import { UseService } from './use.service.js'

@Module({ providers: [UseService], exports: [UseService] })
export class UseModule {}
