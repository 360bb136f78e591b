import { Inject, Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common'
import pg from 'pg'
import { Subject } from 'rxjs'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'

/** Something about a sweep has changed; said by server or worker, heard by every server. */
export interface SweepNews {
  siteId: number
  sweepId: number
}

export const NEWS_CHANNEL = 'unvelt_sweep'

/** Hears through PostgreSQL what the workers, wherever they run, have to say. */
@Injectable()
export class SiteEvents implements OnModuleInit, OnApplicationShutdown {
  readonly sweeps = new Subject<SweepNews>()
  private readonly logger = new Logger('SiteEvents')
  private client: pg.Client | null = null
  private closing = false

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async onModuleInit(): Promise<void> {
    await this.listen()
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true
    this.sweeps.complete()
    await this.client?.end()
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.config.databaseUrl, keepAlive: true })
    this.client = client
    client.on('notification', ({ payload }) => this.sweeps.next(JSON.parse(payload ?? '{}') as SweepNews))
    client.on('error', (error) => this.logger.warn(error.message))
    client.on('end', () => {
      if (!this.closing) setTimeout(() => void this.listen().catch((e: Error) => this.logger.error(e.message)), 1000)
    })
    await client.connect()
    await client.query(`listen ${NEWS_CHANNEL}`)
  }
}
