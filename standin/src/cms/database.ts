import pg from 'pg'
import type { Trace } from './trace.js'

/** The stand-in's own database. Queries made while a page is made are timed on that page's trace. */
export class Database {
  private constructor(
    private readonly pool: pg.Pool,
    private readonly connection: pg.Pool | pg.PoolClient = pool,
    private readonly everyQuery?: Trace,
  ) {}

  static async open(url: string): Promise<Database> {
    const pool = new pg.Pool({ connectionString: url, max: 6 })
    pool.on('error', (error) => console.error(`stand-in database: ${error.message}`))
    await pool.query('select 1')
    return new Database(pool)
  }

  async query<Row extends pg.QueryResultRow>(
    text: string,
    values: unknown[] = [],
    trace = this.everyQuery,
  ): Promise<Row[]> {
    const run = () => this.connection.query<Row>(text, values)
    return (await (trace ? trace.query(text, run) : run())).rows
  }

  /** The same database, every query of which is timed on one trace. */
  tracedBy(trace: Trace): Database {
    return new Database(this.pool, this.connection, trace)
  }

  /** Runs something on one connection and takes back all that it wrote. */
  async trial<T>(run: (database: Database) => Promise<T>): Promise<T> {
    const client = await this.pool.connect()
    try {
      await client.query('begin')
      return await run(new Database(this.pool, client))
    } finally {
      await client.query('rollback').catch(() => {})
      client.release()
    }
  }

  /** Runs statements on one connection, all or none. */
  async transaction(run: (query: (text: string, values?: unknown[]) => Promise<pg.QueryResultRow[]>) => Promise<void>) {
    const client = await this.pool.connect()
    try {
      await client.query('begin')
      await run(async (text, values = []) => (await client.query<pg.QueryResultRow>(text, values)).rows)
      await client.query('commit')
    } catch (error) {
      await client.query('rollback').catch(() => {})
      throw error
    } finally {
      client.release()
    }
  }

  async close(): Promise<void> {
    await this.pool.end()
  }
}
