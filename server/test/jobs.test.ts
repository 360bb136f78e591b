import pg from 'pg'
import type PgBoss from 'pg-boss'
import { Sequelize } from 'sequelize'
import type { Hold, Job } from '../src/queue/job.js'
import { LockLost, Locks } from '../src/queue/locks.js'
import { READ_ON_DEMAND } from '../src/queue/queue.js'
import { QUEUE } from '../src/queue/queue.module.js'
import { JobRunner } from '../src/queue/run-jobs.js'
import { nextPriority } from '../src/sweep/fair-order.js'
import { MachineTurn } from '../src/worker/machine-turn.js'
import { appForTest } from './app-for-test.js'
import { plainSite } from '../../testing/plain-site.js'

/** The shell that all jobs run in, with jobs of the test's own. */
let t: Awaited<ReturnType<typeof appForTest>>
let sequelize: Sequelize
let queue: PgBoss
const runners: JobRunner[] = []
const open: Locks[] = []

beforeAll(async () => {
  t = await appForTest()
  sequelize = t.app.get(Sequelize)
  queue = t.app.get(QUEUE)
})
afterEach(async () => {
  for (const runner of runners.splice(0)) runner.stop()
  await queue.offWork(READ_ON_DEMAND)
  for (const locks of open.splice(0)) await locks.close()
})
afterAll(() => t?.stop())

interface Work {
  id: number
}
let nextId = 1
/** A job of one id, which is unfinished until it says that it is done. */
function aJob(run: (hold: Hold, job: { done(): void }) => Promise<void>) {
  const id = nextId++
  const seen = { runs: 0, givenUp: [] as string[], stood: [] as string[], open: true }
  const job: Job<Work> = {
    name: READ_ON_DEMAND,
    atATime: 1,
    keyOf: (data) => `test-${data.id}`,
    async run(data, hold) {
      if (data.id !== id || !seen.open) return
      seen.runs++
      await run(hold, { done: () => void (seen.open = false) })
    },
    giveUp: async (_, why) => {
      seen.givenUp.push(why)
      seen.open = false
    },
    standStill: async (_, why) => {
      seen.stood.push(why)
      seen.open = false
    },
    unfinished: async () => (seen.open ? [{ data: { id } }] : []),
  }
  return { job, seen }
}

async function runnerOf(job: Job<Work>): Promise<Locks> {
  const locks = await Locks.open(t.databaseUrl)
  const runner = new JobRunner({ sequelize, queue, locks, stopping: () => false })
  await runner.take(job)
  runner.start()
  runners.push(runner)
  open.push(locks)
  return locks
}
async function until(is: () => boolean | Promise<boolean>): Promise<void> {
  while (!(await is())) await new Promise((resolve) => setTimeout(resolve, 50))
}

it('what the tables say is to be done is done, though nobody ever queued it', async () => {
  const { job, seen } = aJob(async (_, { done }) => done())
  await runnerOf(job)
  await until(() => !seen.open)
  expect(seen).toMatchObject({ runs: 1, givenUp: [], stood: [] })
})

it('what fails is begun again with pauses, so often and no more, and then told', async () => {
  const at: number[] = []
  const { job, seen } = aJob(async () => {
    at.push(performance.now())
    throw new Error('a fault of ours')
  })
  await runnerOf(job)
  await until(() => !seen.open)
  expect(seen.givenUp).toEqual([expect.stringContaining('a fault of ours')])
  expect(seen.runs).toBe(5)
  const pauses = at.slice(1).map((each, n) => each - at[n]!)
  expect(pauses.at(-1)!).toBeGreaterThan(pauses[0]! + 2_000)
})

it('what gets somewhere has all its tries again', async () => {
  const { job, seen } = aJob(async (hold, { done }) => {
    if (seen.runs === 9) return done()
    await hold.progressed()
    expect(hold.tries).toBeLessThanOrEqual(2)
    throw Object.assign(new Error('gone'), { original: { code: '57P01' } })
  })
  await runnerOf(job)
  await until(() => !seen.open)
  expect(seen).toMatchObject({ runs: 9, givenUp: [], stood: [] })
}, 600_000)

it('trouble that does not pass is told at once, and costs no try', async () => {
  const { job, seen } = aJob(async () => {
    throw Object.assign(new Error('full'), { original: { code: '53100' } })
  })
  await runnerOf(job)
  await until(() => !seen.open)
  expect(seen).toMatchObject({ runs: 1, givenUp: [], stood: ['The disk that Unvelt writes to is full.'] })
})

it('is at hand of one worker at a time; who loses his connection loses the lock, is told, and gets another', async () => {
  let atOnce = 0
  let most = 0
  const lost: unknown[] = []
  const { job, seen } = aJob(async (hold, { done }) => {
    most = Math.max(most, ++atOnce)
    try {
      for (let n = 0; n < 40; n++) {
        await new Promise((resolve) => setTimeout(resolve, 50))
        hold.check()
      }
      done()
    } catch (error) {
      lost.push(error)
      throw error
    } finally {
      atOnce--
    }
  })
  const held = await runnerOf(job)
  await runnerOf(job)
  await until(() => seen.runs === 1)
  const client = new pg.Client({ connectionString: t.databaseUrl })
  await client.connect()
  await client.query(`select pg_terminate_backend(pid) from pg_stat_activity
    where application_name = 'unvelt-locks' and datname = current_database()`)
  await client.end()
  await until(() => !seen.open)
  expect(lost[0]).toBeInstanceOf(LockLost)
  expect(most).toBe(1)
  expect(await held.tryHold('something else')).not.toBeNull()
})

it('what is timed has the machine to itself, whichever worker reads it', async () => {
  const turns = [MachineTurn.open(t.databaseUrl, 6), MachineTurn.open(t.databaseUrl, 6)]
  let alone = 0
  let beside = 0
  let mostBeside = 0
  const work = (n: number) => async () => {
    const isAlone = n % 3 === 0
    await turns[n % 2]!.hold(isAlone, async () => {
      if (isAlone) alone++
      else beside++
      mostBeside = Math.max(mostBeside, beside)
      expect(alone === 0 || (alone === 1 && beside === 0)).toBe(true)
      await new Promise((resolve) => setTimeout(resolve, 15))
      if (isAlone) alone--
      else beside--
    })
  }
  await Promise.all(Array.from({ length: 60 }, (_, n) => work(n)()))
  expect(mostBeside).toBeGreaterThan(1)
  // Who fails in his turn leaves it.
  await expect(turns[0]!.hold(true, () => Promise.reject(new Error('no')))).rejects.toThrow('no')
  await turns[1]!.hold(true, async () => {})
  await Promise.all(turns.map((turn) => turn.close()))
})

it('sites take turns page by page, a run’s lenses come one after the other, and what somebody waits for goes first', async () => {
  const sites = await Promise.all([plainSite(), plainSite()])
  const ids = []
  for (const { address } of sites)
    ids.push((await t.call('POST', '/sites', { address, withoutConnector: true, local: true })).body.id as number)
  const [large, small] = ids
  const lenses = (await t.call('GET', `/sites/${large}/lenses`)).body.slice(0, 2).map(({ id }: Work) => id)
  const first = (await t.call('POST', `/sites/${large}/sweeps`, { lensIds: lenses })).body
  await t.call('POST', `/sites/${small}/sweeps`, {})
  const jobs = await sequelize.query<{ site: number; sweep: number }>(
    `select site_id site, sweep.id sweep from pgboss.job join sweep on sweep.id = (data ->> 'sweepId')::int
     where name = 'read-page' order by priority desc, created_on, job.id`,
    { type: 'SELECT' as never },
  )
  const order = jobs.map(({ site }) => (site === large ? 'L' : 's')).join('')
  // Wherever the small one has a page left, one of each comes in two.
  expect(order.slice(0, 10)).toMatch(/^((Ls|sL)){5}$/)
  const ofRun = jobs.filter(({ site }) => site === large).map(({ sweep }) => sweep)
  expect(ofRun).toEqual([...ofRun].sort((a, b) => a - b))
  const listed = (await t.call('GET', `/sites/${large}/sweeps`)).body
  expect(listed.map(({ runId }: { runId: number }) => runId)).toEqual([first.id, first.id])
  const top = await nextPriority(sequelize, { urgent: false })
  expect(await nextPriority(sequelize, { urgent: true })).toBeGreaterThan(top + 100_000)
  await Promise.all(sites.map((site) => site.stop()))
})
