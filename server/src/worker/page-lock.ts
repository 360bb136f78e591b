import pg from 'pg'
import { QueryTypes, type Sequelize } from 'sequelize'
import type { ReadPageJob } from '../queue/queue.js'

/** First half of the advisory lock's key; the second is made of sweep and page. */
const LOCK_SPACE = 4601

/**
 * Says which pages are being read by somebody alive. The lock hangs on the worker's own database connection: when the
 * worker dies, however it dies, PostgreSQL lets the lock go.
 */
export class PageLocks {
  /** One connection gets one lock as often as it asks. */
  private readonly held = new Set<number>()

  private constructor(private readonly client: pg.Client) {}

  static async open(databaseUrl: string): Promise<PageLocks> {
    const client = new pg.Client({
      connectionString: databaseUrl,
      keepAlive: true,
      application_name: 'unvelt-page-locks',
    })
    client.on('error', (error) => console.error(`page locks: ${error.message}`))
    await client.connect()
    return new PageLocks(client)
  }

  /** Runs something while the page is marked as being read; null when somebody else is reading it. */
  async hold<T>(job: ReadPageJob, run: () => Promise<T>): Promise<T | null> {
    const number = lockNumber(job)
    if (this.held.has(number)) return null
    const key = [LOCK_SPACE, number]
    const { rows } = await this.client.query<{ got: boolean }>('select pg_try_advisory_lock($1, $2) got', key)
    if (!rows[0]!.got) return null
    this.held.add(number)
    try {
      return await run()
    } finally {
      this.held.delete(number)
      await this.client.query('select pg_advisory_unlock($1, $2)', key)
    }
  }

  close(): Promise<void> {
    return this.client.end()
  }
}

/** Pages that count as being read although nobody alive reads them: their worker was killed. */
export async function abandonedPages(sequelize: Sequelize): Promise<ReadPageJob[]> {
  const reading = await sequelize.query<ReadPageJob>(
    `select sweep_id "sweepId", page_id "pageId" from sweep_page join sweep on sweep.id = sweep_id
     where state = 'reading' and status = 'running'`,
    { type: QueryTypes.SELECT },
  )
  if (reading.length === 0) return []
  const locks = await sequelize.query<{ objid: number }>(
    `select objid::int8::int objid from pg_locks where locktype = 'advisory' and classid = ${LOCK_SPACE} and granted
     and database = (select oid from pg_database where datname = current_database())`,
    { type: QueryTypes.SELECT },
  )
  const held = new Set(locks.map((lock) => lock.objid))
  return reading.filter((job) => !held.has(lockNumber(job)))
}

/** 31 bits out of sweep and page; two pages with one number only wait for each other. */
function lockNumber({ sweepId, pageId }: ReadPageJob): number {
  return (Math.imul(sweepId, 0x9e3779b1) ^ Math.imul(pageId, 0x85ebca6b)) & 0x7fffffff
}
