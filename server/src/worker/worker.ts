import 'reflect-metadata'
import type PgBoss from 'pg-boss'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import { readConfig } from '../config/config.js'
import { connect } from '../database/connect.js'
import {
  ACTIONS,
  GIVEN_UP,
  openQueue,
  READ_PAGE,
  RECOMPUTE,
  SERVER_READING,
  WITHOUT,
  type ActionsJob,
  type WithoutJob,
  type ServerReadingJob,
  type ReadPageJob,
  type RecomputeJob,
} from '../queue/queue.js'
import { forgetOldTraces } from '../trace/trace-store.js'
import { runActionsJob } from './actions-job.js'
import { launchBrowser } from '../browser/browser.js'
import { runPageJob } from './page-job.js'
import { giveUpReading, giveUpRecomputing } from './given-up-job.js'
import { runRecomputeJob } from './recompute-job.js'
import { runServerReadingJob } from './server-reading-job.js'
import { runWithoutJob } from './without-job.js'
import { abandonedPages, PageLocks } from './page-lock.js'
import { Turns } from './turns.js'

const LOOK_FOR_ABANDONED_MS = 3000

/** One worker process: takes jobs from the queue and reads pages with a browser of its own, at most one at a time for its times. */
async function main(): Promise<void> {
  const config = readConfig()
  const sequelize = await connect(config.databaseUrl)
  const queue = await openQueue(config.databaseUrl)
  const locks = await PageLocks.open(config.databaseUrl)
  let stopping = false
  let browser: Promise<Browser> | null = null
  const aliveBrowser = async (): Promise<Browser> => {
    const last = browser
    const alive = await last?.catch(() => null)
    if (alive?.isConnected()) return alive
    // Of several that find it gone, the first one starts another.
    if (browser === last) browser = launchBrowser(config.chromium)
    return browser!
  }
  await aliveBrowser()
  await forgetOldTraces(sequelize)
  const tools = {
    sequelize,
    secret: config.secret,
    browser: aliveBrowser,
    stopping: () => stopping,
    turns: new Turns(),
  }
  // Of several pages, what gives no times overlaps (steps above all); what gives times never does.
  for (let n = 0; n < config.pagesAtATime; n++)
    await queue.work<ReadPageJob>(READ_PAGE, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
      if (job) await locks.hold(job.data, () => runPageJob(tools, job.data))
    })
  await queue.work<RecomputeJob>(RECOMPUTE, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await runRecomputeJob(sequelize, job.data)
  })
  await queue.work<ServerReadingJob>(SERVER_READING, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await runServerReadingJob(tools, job.data)
  })
  await queue.work<WithoutJob>(WITHOUT, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await runWithoutJob(tools, job.data)
  })
  await queue.work<ActionsJob>(ACTIONS, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await runActionsJob(tools, job.data)
  })
  const givenUp = { batchSize: 1, pollingIntervalSeconds: 2 }
  await queue.work<ServerReadingJob>(GIVEN_UP[SERVER_READING], givenUp, async ([job]) => {
    if (job) await giveUpReading('server', job.data.id)
  })
  await queue.work<WithoutJob>(GIVEN_UP[WITHOUT], givenUp, async ([job]) => {
    if (job) await giveUpReading('without', job.data.id)
  })
  await queue.work<ActionsJob>(GIVEN_UP[ACTIONS], givenUp, async ([job]) => {
    if (job) await giveUpReading('actions', job.data.id)
  })
  await queue.work<RecomputeJob>(GIVEN_UP[RECOMPUTE], givenUp, async ([job]) => {
    if (job) await giveUpRecomputing(job.data.sweepId)
  })
  const rescue = setInterval(() => {
    rescueAbandoned(sequelize, queue).catch((error: Error) => console.error(`worker: ${error.message}`))
  }, LOOK_FOR_ABANDONED_MS)
  console.log('worker ready')
  const stop = async () => {
    stopping = true
    clearInterval(rescue)
    await (await browser)?.close()
    await queue.stop({ graceful: true, timeout: 3000 })
    await locks.close()
    await sequelize.close()
    process.exit(0)
  }
  process.once('SIGTERM', () => void stop())
  process.once('SIGINT', () => void stop())
}

/** Puts pages whose worker was killed back into the queue. Of several workers that see one, the first does it. */
async function rescueAbandoned(sequelize: Sequelize, queue: PgBoss): Promise<void> {
  for (const job of await abandonedPages(sequelize)) {
    const [, changed] = await sequelize.query(
      `update sweep_page set state = 'waiting' where sweep_id = :sweepId and page_id = :pageId and state = 'reading'`,
      { replacements: { ...job } },
    )
    if ((changed as { rowCount?: number }).rowCount) await queue.send(READ_PAGE, job)
  }
}

main().catch((error: Error) => {
  console.error(`worker: ${error.message}`)
  process.exit(1)
})
