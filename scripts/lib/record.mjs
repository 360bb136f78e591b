import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { runMain } from './fail.mjs'
import { freePort } from './ports.mjs'
import { caller, seedDemo } from './seed.mjs'
import { startStack } from './stack.mjs'
import { ensureSystemPackages } from './system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './workspace.mjs'

/** Records something of the demo's past on a stack of its own, with the sweeps of the past and nothing beside them. */
export const record = (name, run) =>
  runMain(async () => {
    await ensureSystemPackages()
    await ensureNodeModules()
    await ensureBuilt()
    const home = mkdtempSync(join(tmpdir(), `unvelt-${name}-`))
    chmodSync(home, 0o755)
    const stack = await startStack({ home, port: await freePort(), standinPort: await freePort(), throwaway: true })
    try {
      await seedDemo(stack, { full: false })
      const call = caller(stack.address)
      const [site] = await call('GET', '/sites')
      await run({ stack, call, site })
    } finally {
      await stack.stop()
      rmSync(home, { recursive: true, force: true })
    }
  })
