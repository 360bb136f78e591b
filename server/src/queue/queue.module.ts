import { Global, Inject, Module, type OnApplicationShutdown } from '@nestjs/common'
import PgBoss from 'pg-boss'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { openQueue } from './queue.js'

export const QUEUE = Symbol('queue')

@Global()
@Module({
  providers: [{ provide: QUEUE, inject: [CONFIG], useFactory: ({ databaseUrl }: Config) => openQueue(databaseUrl) }],
  exports: [QUEUE],
})
export class QueueModule implements OnApplicationShutdown {
  constructor(@Inject(QUEUE) private readonly queue: PgBoss) {}

  async onApplicationShutdown(): Promise<void> {
    await this.queue.stop({ graceful: false })
  }
}
