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
/** Told by the tables themselves (migration `0061-changes`): the site something was written of, or none where it is about all. */
export const CHANGES_CHANNEL = 'unvelt_changes'

/** Hears through PostgreSQL what the workers, wherever they run, have to say. */
const LISTEN_AGAIN_MS = 1000
/** A connection that gives no answer for so long is taken for deaf. */
const QUERY_TIMEOUT_MS = 5000

@Injectable()
export class SiteEvents implements OnModuleInit, BeforeApplicationShutdown, OnApplicationShutdown {
  readonly news = new Subject<News>()
  /** The site something was written of; null for all of them. */
  readonly changes = new Subject<number | null>()
  /** Comes when the server is to end, and all who listen with it. */
  readonly ended = new Subject<void>()
  private readonly logger = new Logger('SiteEvents')
  private client: pg.Client | null = null
  private closing = false
  private again: NodeJS.Timeout | undefined
  private isHeard = false
  private nextCatchUp: Promise<boolean> | null = null
  private catchUp: Promise<boolean> = Promise.resolve(false)

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async onModuleInit(): Promise<void> {
    await this.listen()
  }

  beforeApplicationShutdown(): void {
    this.closing = true
    clearTimeout(this.again)
    this.ended.next()
    this.news.complete()
    this.changes.complete()
  }

  async onApplicationShutdown(): Promise<void> {
    await this.client?.end()
  }

  private async listen(): Promise<void> {
    const client = new pg.Client({
      connectionString: this.config.databaseUrl,
      keepAlive: true,
      query_timeout: QUERY_TIMEOUT_MS,
    })
    this.client = client
    client.on('notification', ({ channel, payload }) => {
      if (channel === CHANGES_CHANNEL) this.changes.next(Number(payload) || null)
      else this.news.next(JSON.parse(payload ?? '{}') as News)
    })
    client.on('error', (error) => this.logger.warn(error.message))
    client.on('end', () => {
      if (this.client !== client) return
      this.isHeard = false
      this.listenAgain()
    })
    try {
      await client.connect()
      await client.query(`listen ${NEWS_CHANNEL}; listen ${CHANGES_CHANNEL}`)
    } catch (error) {
      void client.end().catch(() => {})
      throw error
    }
    this.isHeard = true
    // Whatever was written meanwhile, nobody has heard of it.
    this.changes.next(null)
  }

  /**
   * Comes when all has been heard that was written before this was called: PostgreSQL hands out what it has to tell before it
   * answers on the same connection. Who calls while somebody waits shares the next wait.
   * @returns false while the database is not heard
   */
  caughtUp(): Promise<boolean> {
    return (this.nextCatchUp ??= this.catchUp.then(() => {
      this.nextCatchUp = null
      return (this.catchUp = this.askWhatIsNew())
    }))
  }

  private async askWhatIsNew(): Promise<boolean> {
    if (!this.isHeard || !this.client) return false
    return this.client.query('select 1').then(
      () => this.isHeard,
      () => false,
    )
  }

  /** Until the database is there again; once only, though whoever fails to connect both ends and says so. */
  private listenAgain(): void {
    if (this.again || this.closing) return
    this.again = setTimeout(() => {
      this.again = undefined
      this.listen().catch((error: Error) => {
        this.logger.error(error.message)
        this.listenAgain()
      })
    }, LISTEN_AGAIN_MS)
  }
}
