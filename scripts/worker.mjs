// npm run worker: one more measuring worker beside the Unvelt that runs on this machine's data folder, or, with DATABASE_URL
// and UNVELT_SECRET, of one that runs elsewhere.
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { PlainError, runMain } from './lib/fail.mjs'
import { unveltHome } from './lib/home.mjs'
import { runningDatabase, startWorker } from './lib/stack.mjs'
import { chromiumProgram, ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

await runMain(async () => {
  await ensureSystemPackages({ postgres: false })
  await ensureNodeModules()
  await ensureBuilt()
  // One's own data first; without any that runs, the demo's.
  const homes = [unveltHome('start'), unveltHome('demo')]
  const home = homes.find((each) => runningDatabase(each)) ?? homes[0]
  const databaseUrl = process.env.DATABASE_URL ?? runningDatabase(home)
  if (!databaseUrl)
    throw new PlainError(
      `nothing runs on the data folder ${home}. Start Unvelt first, set UNVELT_HOME to its folder, or, on another machine, set DATABASE_URL and UNVELT_SECRET (docs/running.md).`,
    )
  if (process.env.DATABASE_URL && !process.env.UNVELT_SECRET && !existsSync(join(home, 'secret')))
    throw new PlainError(
      'a worker on another machine needs UNVELT_SECRET: the contents of the file “secret” in the data folder of the server.',
    )
  const env = { DATABASE_URL: databaseUrl, UNVELT_HOME: home, UNVELT_CHROMIUM: chromiumProgram() }
  const worker = await startWorker(env, home)
  for (let waited = 0; !worker.said().includes('worker ready'); waited += 100) {
    if (worker.isOver()) {
      const said = worker.said()
      await worker.stop()
      throw new PlainError(`the worker could not start. It said:\n${said}`)
    }
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  console.log('The worker takes part. Ctrl-C ends it; what it has at hand is read by others.')
  await new Promise((resolve) => {
    process.once('SIGINT', resolve)
    process.once('SIGTERM', resolve)
  })
  await worker.stop()
})
