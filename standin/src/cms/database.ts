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
    const run = async () => (await this.pool.query<Row>(text, values)).rows
    return trace ? trace.query(run) : run()
  }

  async close(): Promise<void> {
    await this.pool.end()
  }
}
