import pg from 'pg'
import type { Trace } from './trace.js'

/** The stand-in's own database. Queries made while a page is made are timed on that page's trace. */
export class Database {
  private constructor(private readonly pool: pg.Pool) {}

  static async open(url: string): Promise<Database> {
    const pool = new pg.Pool({ connectionString: url, max: 6 })
    pool.on('error', (error) => console.error(`stand-in database: ${error.message}`))
    await pool.query('select 1')
    return new Database(pool)
  }

  async query<Row extends pg.QueryResultRow>(text: string, values: unknown[] = [], trace?: Trace): Promise<Row[]> {
    const run = () => this.pool.query<Row>(text, values)
    return (await (trace ? trace.query(text, run) : run())).rows
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
