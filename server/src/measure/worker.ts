import type { Browser } from 'playwright-core'
import { readConfig } from '../config/config.js'
import { connect } from '../database/connect.js'
import { openQueue, READ_PAGE, type ReadPageJob } from '../queue/queue.js'
import { launchBrowser } from './browser.js'
import { runPageJob } from './page-job.js'

/** One worker process: takes page jobs from the queue, one at a time, and reads them with a browser of its own. */
async function main(): Promise<void> {
  const config = readConfig()
  const sequelize = await connect(config.databaseUrl)
  const queue = await openQueue(config.databaseUrl)
  let browser: Promise<Browser> | null = null
  const aliveBrowser = async () => {
    if (!browser || !(await browser.catch(() => null))?.isConnected()) browser = launchBrowser(config.chromium)
    return browser
  }
  await aliveBrowser()
  await queue.work<ReadPageJob>(READ_PAGE, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await runPageJob({ sequelize, secret: config.secret, browser: aliveBrowser }, job.data)
  })
  console.log('worker ready')
  const stop = async () => {
    await queue.stop({ graceful: true, timeout: 5000 })
    await (await browser)?.close()
    await sequelize.close()
    process.exit(0)
  }
  process.once('SIGTERM', () => void stop())
  process.once('SIGINT', () => void stop())
}

main().catch((error: Error) => {
  console.error(`worker: ${error.message}`)
  process.exit(1)
})
