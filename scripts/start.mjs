// npm start: Unvelt on one's own data, without the made-up site. Installs what is missing, builds, runs until Ctrl-C.
import { PlainError, runMain } from './lib/fail.mjs'
import { unveltHome } from './lib/home.mjs'
import { requirePort } from './lib/ports.mjs'
import { takeHome } from './lib/single.mjs'
import { startUnvelt } from './lib/stack.mjs'
import { ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

await runMain(async () => {
  const port = Number(process.env.UNVELT_PORT ?? 4600)
  const previewPort = Number(process.env.UNVELT_PREVIEW_PORT ?? 4620)
  const home = unveltHome('start')
  const giveHomeFree = takeHome(home)
  const interrupted = new Promise((resolve) => {
    process.once('SIGINT', resolve)
    process.once('SIGTERM', resolve)
  })
  let unvelt
  try {
    await requirePort(port, 'Unvelt', 'UNVELT_PORT')
    await requirePort(previewPort, 'the gate for previews', 'UNVELT_PREVIEW_PORT')
    await ensureSystemPackages({ postgres: !process.env.DATABASE_URL })
    await ensureNodeModules()
    await ensureBuilt()
    unvelt = await startUnvelt({ home, port, previewPort, quiet: process.env.UNVELT_LOG === undefined })
    console.log(`Its data is in ${home}. Ctrl-C stops it.`)
    console.log(`Unvelt is ready at ${unvelt.address}`)
    await interrupted
    console.log('\nStopping …')
  } catch (error) {
    throw error.code === 'EACCES' ? new PlainError(`${error.path} can’t be written to.`) : error
  } finally {
    await unvelt?.stop()
    giveHomeFree()
  }
})
