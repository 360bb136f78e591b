import { randomUUID } from 'node:crypto'
import { hostname } from 'node:os'
import type { Sequelize } from 'sequelize'
import { log } from '../log/log.js'

const EVERY_MS = 5_000

/** Says from time to time that this worker is there, so that whoever waits for one knows whether there is any. */
export class Heartbeat {
  private readonly id = randomUUID()
  private timer: NodeJS.Timeout | null = null

  constructor(private readonly sequelize: Sequelize) {}

  async start(): Promise<void> {
    await this.beat()
    this.timer = setInterval(() => {
      this.beat().catch((error: Error) => log.warn({ part: 'heartbeat' }, error.message))
    }, EVERY_MS)
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer)
    await this.sequelize.query('delete from worker where id = :id', { replacements: { id: this.id } }).catch(() => {})
  }

  private async beat(): Promise<void> {
    await this.sequelize.query(
      `with gone as (delete from worker where seen_at < now() - interval '1 day')
       insert into worker (id, host, pid) values (:id, :host, :pid) on conflict (id) do update set seen_at = now()`,
      { replacements: { id: this.id, host: hostname(), pid: process.pid } },
    )
  }
}
