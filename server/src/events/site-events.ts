import {
  Inject,
  Injectable,
  Logger,
  type BeforeApplicationShutdown,
  type OnApplicationShutdown,
  type OnModuleInit,
} from '@nestjs/common'
import pg from 'pg'
import { Subject } from 'rxjs'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'

/** Something about a sweep, a change of rules, a rehearsal or a preview is new; said by server or worker, heard by every server. */
export type News = { siteId: number } & (
  | { sweepId: number }
  | { deploymentId: number }
  | { rehearsalId: number }
  | { retirementId: number }
  /** Said by the server that shows it, to nobody but itself. */
  | { previewId: string }
)

export const NEWS_CHANNEL = 'unvelt_news'

/** Hears through PostgreSQL what the workers, wherever they run, have to say. */
const LISTEN_AGAIN_MS = 1000

@Injectable()
export class SiteEvents implements OnModuleInit, BeforeApplicationShutdown, OnApplicationShutdown {
  readonly news = new Subject<News>()
  /** Comes when the server is to end, and all who listen with it. */
  readonly ended = new Subject<void>()
  private readonly logger = new Logger('SiteEvents')
  private client: pg.Client | null = null
  private closing = false

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async onModuleInit(): Promise<void> {
    await this.listen()
  }

  beforeApplicationShutdown(): void {
    this.closing = true
    this.ended.next()
    this.news.complete()
  }

  async onApplicationShutdown(): Promise<void> {
    await this.client?.end()
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({ connectionString: this.config.databaseUrl, keepAlive: true })
    this.client = client
    client.on('notification', ({ payload }) => this.news.next(JSON.parse(payload ?? '{}') as News))
    client.on('error', (error) => this.logger.warn(error.message))
    client.on('end', () => {
      if (!this.closing) this.listenAgain()
    })
    await client.connect()
    await client.query(`listen ${NEWS_CHANNEL}`)
  }

  /** Until the database is there again. */
  private listenAgain(): void {
    setTimeout(() => {
      if (!this.closing)
        this.listen().catch((error: Error) => {
          this.logger.error(error.message)
          this.listenAgain()
        })
    }, LISTEN_AGAIN_MS)
  }
}
