import { Global, Module } from '@nestjs/common'
import { SiteEvents } from './site-events.js'

@Global()
@Module({ providers: [SiteEvents], exports: [SiteEvents] })
export class EventsModule {}
