import 'reflect-metadata'
import { Browsers } from '../browser/browsers.js'
import { launchBrowser } from '../browser/browser.js'
import { readConfig } from '../config/config.js'
import { connect } from '../database/connect.js'
import { checkInstance, checkVersion } from '../instance/instance.js'
import { log, setLogLevel } from '../log/log.js'
import { Locks } from '../queue/locks.js'
import { ownTrouble } from '../queue/own-trouble.js'
import { openQueue } from '../queue/queue.js'
import { JobRunner } from '../queue/run-jobs.js'
import { causeJob } from '../complaint/cause-job.js'
import { gentleJob } from '../gentle/gentle-job.js'
import { deployJob } from '../rule/deployment/deploy-job.js'
import { culpritJob } from '../culprit/search-job.js'
import { rehearseJob } from '../rehearsal/rehearse-job.js'
import { retireJob } from '../retirement/retire-job.js'
import { restoreJob } from '../snapshot/restore-job.js'
import { printJob } from '../paper/print-job.js'
import { tidyJob } from '../tidy/tidy-job.js'
import { draftExpired } from '../rule/expired-rules.js'
import { forgetOldTraces } from '../trace/trace-store.js'
import { Heartbeat } from './heartbeat.js'
import { onDemandJob, pageJob, recomputeJob, takeSpansJob } from './jobs.js'
import { accessBook } from '../site-http/access-book.js'
import { findAccessBy } from '../site-http/site-access.js'
import { findWaysBy } from '../site-http/site-way.js'
import { wayBook } from '../site-http/way-book.js'
import { MachineTurn } from './machine-turn.js'
import { Turns } from './turns.js'

/** Jobs that are beside those that read pages: each may wait for a turn. */
const OTHER_JOBS = 6
const END_WITHIN_MS = 3_000
/** Days are short enough for that. */
const EXPIRED_EVERY_MS = 10 * 60_000

/** One worker process: takes jobs from the queue and reads pages with browsers of its own. */
async function main(): Promise<void> {
  const config = readConfig()
  setLogLevel(config.logLevel)
  const sequelize = await connect(config.databaseUrl)
  await checkVersion(sequelize)
  await checkInstance(sequelize, config)
  findAccessBy(accessBook(config.secret))
  findWaysBy(wayBook())
  const queue = await openQueue(config.databaseUrl)
  const locks = await Locks.open(config.databaseUrl)
  const machine = MachineTurn.open(config.databaseUrl, config.pagesAtATime + OTHER_JOBS)
  const browsers = new Browsers(() => launchBrowser(config.chromium))
  const heartbeat = new Heartbeat(sequelize)
  let stopping = false
  const tools = {
    sequelize,
    secret: config.secret,
    browsers,
    turns: new Turns((alone, run) => machine.hold(alone, run)),
    stopping: () => stopping,
  }
  const runner = new JobRunner({ sequelize, queue, locks, stopping: tools.stopping })
  await browsers.shared()
  await heartbeat.start()
  await forgetOldTraces(sequelize)
  await runner.take(pageJob(tools, config.pagesAtATime))
  await runner.take(recomputeJob(tools))
  await runner.take(takeSpansJob(tools))
  await runner.take(onDemandJob(tools))
  await runner.take(rehearseJob(tools))
  await runner.take(culpritJob({ ...tools, queue }))
  await runner.take(gentleJob(tools))
  await runner.take(causeJob(tools))
  await runner.take(deployJob({ ...tools, queue }))
  await runner.take(retireJob(tools))
  await runner.take(restoreJob(tools))
  await runner.take(tidyJob(tools))
  await runner.take(printJob(tools))
  const expire = () =>
    draftExpired(sequelize, new Date()).catch((error: Error) => log.warn({ part: 'expired rules' }, error.message))
  await expire()
  const expiring = setInterval(() => void expire(), EXPIRED_EVERY_MS)
  runner.start()
  log.info('worker ready')
  const stop = async () => {
    stopping = true
    clearInterval(expiring)
    runner.stop()
    await browsers.close()
    await queue.stop({ graceful: true, timeout: END_WITHIN_MS })
    await heartbeat.stop()
    await locks.close()
    process.exit(0)
  }
  process.once('SIGTERM', () => void stop())
  process.once('SIGINT', () => void stop())
}

// The queue tells of jobs' ends without waiting for whether that was heard; with the database gone it was not.
process.on('unhandledRejection', (error) => {
  if (ownTrouble(error)) return log.warn({ part: 'worker' }, (error as Error).message)
  log.fatal({ err: error }, 'the worker ends')
  process.exit(1)
})

main().catch((error: Error) => {
  log.fatal(error.message)
  process.exit(1)
})
