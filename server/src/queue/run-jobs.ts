import type PgBoss from 'pg-boss'
import { QueryTypes, type Sequelize } from 'sequelize'
import { log, logWithin } from '../log/log.js'
import type { Job } from './job.js'
import { heldOf, LockLost, type Lock, type Locks } from './locks.js'
import { ownTrouble } from './own-trouble.js'

/** So often a job is begun that gets nowhere. */
const MOST_TRIES = 5
/** So often in a row Unvelt's own trouble is waited out before whoever waits is told. */
const MOST_TROUBLES = 8
const LOOK_FOR_LOST_MS = 3_000
const LONGEST_PAUSE_S = 60
/** A job that was just queued or taken is given so long before it counts as lost. */
const GRACE_S = 2

const NOBODY = 'It was begun several times, and no worker could end it.'

interface Parts {
  sequelize: Sequelize
  queue: PgBoss
  locks: Locks
  /** True once the worker is to end: what fails from then on is nobody's failure. */
  stopping(): boolean
}

/**
 * The one shell for all jobs: each is held by a lock while it runs, begun again a bounded number of times with growing
 * pauses, given up with its reason, and found again when its worker, the queue or the database has lost it.
 */
export class JobRunner {
  // Jobs of different data are kept together and each only ever given its own.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  private readonly jobs: Job<any>[] = []
  private readonly troubles = new Map<string, number>()
  private timer: NodeJS.Timeout | null = null

  constructor(private readonly parts: Parts) {}

  async take<T extends object>(job: Job<T>): Promise<void> {
    this.jobs.push(job)
    for (let n = 0; n < job.atATime; n++)
      await this.parts.queue.work<T>(job.name, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([one]) => {
        if (one) await this.begin(job, one.data)
      })
  }

  /** Looks for what got lost, at once and from time to time. */
  start(): void {
    const look = async () => {
      try {
        await this.queueLost()
      } catch (error) {
        log.warn({ part: 'jobs' }, (error as Error).message)
      }
      if (!this.parts.stopping()) this.timer = setTimeout(() => void look(), LOOK_FOR_LOST_MS)
    }
    void look()
  }

  stop(): void {
    if (this.timer) clearTimeout(this.timer)
  }

  private async begin<T extends object>(job: Job<T>, data: T): Promise<void> {
    const key = job.keyOf(data)
    await logWithin({ job: job.name, key }, async () => {
      let lock: Lock | null = null
      try {
        lock = await this.parts.locks.tryHold(`${job.name} ${key}`)
        if (lock) await this.hold(job, data, lock)
      } catch (error) {
        await this.failed(job, data, error).catch((e: Error) => log.warn(e.message))
      } finally {
        await lock?.release()
      }
    })
  }

  private async hold<T extends object>(job: Job<T>, data: T, lock: Lock): Promise<void> {
    const key = job.keyOf(data)
    const tries = await this.countTry(job.name, key)
    if (tries > MOST_TRIES) await job.giveUp(data, NOBODY)
    else
      await job.run(data, {
        tries,
        check: () => {
          if (lock.isLost()) throw new LockLost()
        },
        progressed: async () => {
          this.troubles.delete(`${job.name} ${key}`)
          await this.setTries(job.name, key, 1)
        },
      })
    this.troubles.delete(`${job.name} ${key}`)
    await this.setTries(job.name, key, 0)
  }

  private async failed<T extends object>(job: Job<T>, data: T, error: unknown): Promise<void> {
    const key = job.keyOf(data)
    // Whoever is told to end leaves it to others, who find it.
    if (this.parts.stopping()) return this.takeTryBack(job.name, key)
    const trouble = ownTrouble(error)
    if (trouble) {
      const name = `${job.name} ${key}`
      const troubles = (this.troubles.get(name) ?? 0) + 1
      this.troubles.set(name, troubles)
      log.warn(trouble.why)
      await this.takeTryBack(job.name, key)
      if (trouble.passes && troubles < MOST_TROUBLES) return this.again(job, data, troubles)
      this.troubles.delete(name)
      return job.standStill(data, trouble.why)
    }
    log.error({ err: error }, 'a job failed')
    const tries = await this.triesOf(job.name, key)
    if (tries < MOST_TRIES) return this.again(job, data, tries)
    await job.giveUp(data, `Unvelt itself failed at it, ${MOST_TRIES} times: ${sentence(error)}`)
    await this.setTries(job.name, key, 0)
  }

  private async again<T extends object>(job: Job<T>, data: T, times: number): Promise<void> {
    const startAfter = Math.min(2 ** (times - 1), LONGEST_PAUSE_S)
    await this.parts.queue.send(job.name, data, { startAfter, singletonKey: job.keyOf(data) })
  }

  /** What is to be done by the tables, and neither waits in the queue nor is held by anybody alive. */
  private async queueLost(): Promise<void> {
    for (const job of this.jobs) {
      const unfinished = await job.unfinished()
      if (unfinished.length === 0) continue
      const names = unfinished.map(({ data }) => `${job.name} ${job.keyOf(data)}`)
      const waiting = await this.waitingKeys(job.name)
      const held = await heldOf(this.parts.sequelize, names)
      const lost = unfinished.filter(({ data }, n) => !held.has(names[n]!) && !waiting.has(job.keyOf(data)))
      if (lost.length === 0) continue
      log.info({ job: job.name, lost: lost.length }, 'queued again')
      await this.parts.queue.insert(
        lost.map(({ data, priority = 0 }) => ({ name: job.name, data, priority, singletonKey: job.keyOf(data) })),
      )
    }
  }

  private async waitingKeys(name: string): Promise<Set<string>> {
    const rows = await this.parts.sequelize.query<{ key: string | null }>(
      `select singleton_key "key" from pgboss.job where name = :name and (state < 'active'
         or (state = 'active' and started_on > now() - interval '${GRACE_S} seconds'))`,
      { replacements: { name }, type: QueryTypes.SELECT },
    )
    return new Set(rows.flatMap(({ key }) => key ?? []))
  }

  private async countTry(job: string, key: string): Promise<number> {
    const [row] = await this.parts.sequelize.query<{ tries: number }>(
      `insert into job_try (job, key, tries) values (:job, :key, 1)
       on conflict (job, key) do update set tries = job_try.tries + 1 returning tries`,
      { replacements: { job, key }, type: QueryTypes.SELECT },
    )
    return row!.tries
  }

  private async triesOf(job: string, key: string): Promise<number> {
    const [row] = await this.parts.sequelize.query<{ tries: number }>(
      'select tries from job_try where job = :job and key = :key',
      { replacements: { job, key }, type: QueryTypes.SELECT },
    )
    return row?.tries ?? 0
  }

  private async setTries(job: string, key: string, tries: number): Promise<void> {
    await this.parts.sequelize.query(
      tries === 0
        ? 'delete from job_try where job = :job and key = :key'
        : 'update job_try set tries = :tries where job = :job and key = :key',
      { replacements: { job, key, tries } },
    )
  }

  private async takeTryBack(job: string, key: string): Promise<void> {
    await this.parts.sequelize
      .query('update job_try set tries = greatest(tries - 1, 0) where job = :job and key = :key', {
        replacements: { job, key },
      })
      .catch(() => {})
  }
}

const sentence = (error: unknown) =>
  (error instanceof Error ? error.message : String(error)).split('\n')[0]!.slice(0, 200)
