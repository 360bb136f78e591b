import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { hostname } from 'node:os'
import pg from 'pg'
import { log } from '../log/log.js'

/** First half of the advisory lock's key; the second is made of the machine. */
const LOCK_SPACE = 4602

/**
 * The measuring turn of a machine, which all its workers share: what gives times has the machine to itself, and not only its
 * worker. PostgreSQL gives advisory locks in the order they are asked for, so nobody waits for ever; a worker that dies lets
 * go of what it holds.
 */
export class MachineTurn {
  private constructor(
    private readonly pool: pg.Pool,
    private readonly machine: number,
  ) {}

  /** @param most How many turns are asked for at once, at the most. */
  static open(databaseUrl: string, most: number): MachineTurn {
    const pool = new pg.Pool({
      connectionString: databaseUrl,
      max: most,
      keepAlive: true,
      application_name: 'unvelt-turns',
      idleTimeoutMillis: 60_000,
    })
    pool.on('error', (error) => log.warn({ part: 'turns' }, error.message))
    return new MachineTurn(pool, machineNumber())
  }

  /** Runs something while nothing else, or nothing that is to be alone, runs on this machine. */
  async hold<T>(alone: boolean, run: () => Promise<T>): Promise<T> {
    const client = await this.pool.connect()
    const shared = alone ? '' : '_shared'
    const key = [LOCK_SPACE, this.machine]
    // One whose connection is lost in mid-turn ends its turn all the same.
    const deaf = () => {}
    client.on('error', deaf)
    let isFit = false
    try {
      await client.query(`select pg_advisory_lock${shared}($1, $2)`, key)
      const done = await run()
      isFit = true
      return done
    } finally {
      await client.query(`select pg_advisory_unlock${shared}($1, $2)`, key).catch(() => (isFit = false))
      client.off('error', deaf)
      // A connection that may still hold something is not used again.
      client.release(!isFit)
    }
  }

  close(): Promise<void> {
    return this.pool.end()
  }
}

/** 31 bits that all processes of one running machine have in common, those in containers too: they share its processors. */
function machineNumber(): number {
  const read = (file: string) => {
    try {
      return readFileSync(file, 'utf8').trim()
    } catch {
      return null
    }
  }
  const id = process.env.UNVELT_MACHINE ?? read('/proc/sys/kernel/random/boot_id') ?? hostname()
  return createHash('sha1').update(id).digest().readUInt32BE(0) & 0x7fffffff
}
