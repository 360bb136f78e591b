import { createHash } from 'node:crypto'
import pg from 'pg'
import { QueryTypes, type Sequelize } from 'sequelize'
import { log } from '../log/log.js'

/** First half of the advisory locks' keys; the second is made of the name. */
const LOCK_SPACE = 4601
const LONGEST_PAUSE_MS = 15_000

/** The lock, and with it the right to go on, is gone. */
export class LockLost extends Error {
  constructor() {
    super('The connection that held the lock was lost.')
  }
}

export interface Lock {
  isLost(): boolean
  release(): Promise<void>
}

/**
 * Says what is being worked on by somebody alive. Locks hang on one database connection of the process: when the process
 * dies, however it dies, PostgreSQL lets them go. When the connection dies, another one is made, and what was held is lost.
 */
export class Locks {
  /** One connection gets one lock as often as it asks. */
  private readonly held = new Set<number>()
  private client: pg.Client | null = null
  private connecting: Promise<pg.Client>
  private closing = false

  private constructor(private readonly databaseUrl: string) {
    this.connecting = this.connect()
  }

  static async open(databaseUrl: string): Promise<Locks> {
    const locks = new Locks(databaseUrl)
    await locks.connecting
    return locks
  }

  /** The lock of that name; null when somebody has it. */
  async tryHold(name: string): Promise<Lock | null> {
    const number = lockNumber(name)
    if (this.held.has(number)) return null
    this.held.add(number)
    const client = await this.connecting
    const key = [LOCK_SPACE, number]
    const got = await client
      .query<{ got: boolean }>('select pg_try_advisory_lock($1, $2) got', key)
      .then(({ rows }) => rows[0]!.got)
      .finally(() => client !== this.client && this.held.delete(number))
    if (!got) {
      this.held.delete(number)
      return null
    }
    return {
      isLost: () => client !== this.client,
      release: async () => {
        if (client !== this.client) return
        this.held.delete(number)
        await client.query('select pg_advisory_unlock($1, $2)', key).catch(() => {})
      },
    }
  }

  async close(): Promise<void> {
    this.closing = true
    await this.client?.end().catch(() => {})
  }

  private async connect(): Promise<pg.Client> {
    for (let pause = 250; ; pause = Math.min(2 * pause, LONGEST_PAUSE_MS)) {
      const client = new pg.Client({
        connectionString: this.databaseUrl,
        keepAlive: true,
        application_name: 'unvelt-locks',
      })
      client.on('error', (error) => log.warn({ part: 'locks' }, error.message))
      try {
        await client.connect()
        client.once('end', () => this.lose(client))
        this.client = client
        return client
      } catch (error) {
        if (this.closing) throw error
        log.warn({ part: 'locks' }, `no connection: ${(error as Error).message}`)
        await new Promise((resolve) => setTimeout(resolve, pause))
      }
    }
  }

  private lose(client: pg.Client): void {
    if (this.client !== client) return
    this.client = null
    this.held.clear()
    if (this.closing) return
    this.connecting = this.connect()
    this.connecting.catch(() => {})
  }
}

/** Which of these names somebody alive holds. */
export async function heldOf(sequelize: Sequelize, names: readonly string[]): Promise<Set<string>> {
  const locks = await sequelize.query<{ objid: number }>(
    `select objid::int8::int objid from pg_locks where locktype = 'advisory' and classid = ${LOCK_SPACE} and granted
     and database = (select oid from pg_database where datname = current_database())`,
    { type: QueryTypes.SELECT },
  )
  const held = new Set(locks.map((lock) => lock.objid))
  return new Set(names.filter((name) => held.has(lockNumber(name))))
}

/** 31 bits out of a name; two names with one number only wait for each other. */
const lockNumber = (name: string): number => createHash('sha1').update(name).digest().readUInt32BE(0) & 0x7fffffff
