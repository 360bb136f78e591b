// npm run demo: installs what is missing, builds, starts everything with demo data, and stops it all on Ctrl-C.
import { PlainError, runMain } from './lib/fail.mjs'
import { unveltHome } from './lib/home.mjs'
import { requirePort } from './lib/ports.mjs'
import { seedDemo } from './lib/seed.mjs'
import { takeHome } from './lib/single.mjs'
import { startStack } from './lib/stack.mjs'
import { ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

await runMain(async () => {
  const began = Date.now()
  const port = Number(process.env.UNVELT_PORT ?? 4600)
  const previewPort = Number(process.env.UNVELT_PREVIEW_PORT ?? 4620)
  const standinPort = Number(process.env.STANDIN_PORT ?? 4610)
  const home = unveltHome()
  const giveHomeFree = takeHome(home)
  const interrupted = new Promise((resolve) => {
    process.once('SIGINT', () => resolve('interrupted'))
    process.once('SIGTERM', () => resolve('interrupted'))
  })
  let stack
  try {
    await requirePort(port, 'Unvelt', 'UNVELT_PORT')
    await requirePort(previewPort, 'the gate for previews', 'UNVELT_PREVIEW_PORT')
    await requirePort(standinPort, 'the stand-in site', 'STANDIN_PORT')
    await ensureSystemPackages({ postgres: !process.env.DATABASE_URL })
    await ensureNodeModules()
    await ensureBuilt()
    stack = await startStack({ home, port, previewPort, standinPort, throwaway: process.env.UNVELT_THROWAWAY === '1' })
    await seedDemo(stack)
    console.log(`The stand-in site is at ${stack.standinAddress}/`)
    console.log(`Ready after ${((Date.now() - began) / 1000).toFixed(1)} s. Ctrl-C stops everything.`)
    console.log(`Unvelt is ready at ${stack.address}`)
    const end = await Promise.race([interrupted, stack.ended])
    if (end !== 'interrupted')
      throw new PlainError(`the ${end.name} has ended by itself. It said:\n${end.said() || 'nothing'}`)
    console.log('\nStopping …')
  } finally {
    await stack?.stop()
    giveHomeFree()
  }
})
