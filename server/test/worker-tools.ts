import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import { Browsers } from '../src/browser/browsers.js'
import type { Hold } from '../src/queue/job.js'
import { Turns } from '../src/worker/turns.js'
import type { WorkerTools } from '../src/worker/worker-tools.js'

/** What a job is given by its shell while nothing goes wrong. */
export const aHold: Hold = { tries: 1, check() {}, progressed: async () => {} }

/** A browser that is never started, for work that needs none. */
const noBrowser = () => Promise.reject(new Error('no browser is needed here'))

/** What a worker works with, without the worker. The browser stays its owner's. */
export const workerTools = (
  sequelize: Sequelize,
  { browser, ...more }: { browser?: Browser } & Partial<WorkerTools> = {},
): WorkerTools => ({
  sequelize,
  secret: Buffer.from('5a'.repeat(32), 'hex'),
  browsers: new Browsers(browser ? () => Promise.resolve(browser) : noBrowser),
  turns: new Turns(),
  stopping: () => false,
  ...more,
})
