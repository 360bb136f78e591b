// npm run faults [-- ROUNDS [SEED]]: kills worker, browser, server, database and site at random moments of sweeps and of changes of
// rules, on data of its own, and counts what was lost, doubled or stuck.
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PlainError, runMain } from './lib/fail.mjs'
import { faultRounds } from './lib/faults.mjs'
import { freePort } from './lib/ports.mjs'
import { startStack } from './lib/stack.mjs'
import { ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

await runMain(async () => {
  const [rounds = 100, seed = Date.now() % 1e6] = process.argv.slice(2).map(Number)
  await ensureSystemPackages()
  await ensureNodeModules()
  await ensureBuilt()
  process.env.STANDIN_PAGES = '8'
  const home = mkdtempSync(join(tmpdir(), 'unvelt-faults-'))
  chmodSync(home, 0o755)
  const ports = { port: await freePort(), standinPort: await freePort() }
  const stack = await startStack({ home, ...ports, hushed: true, keepSite: true })
  try {
    console.log(`${rounds} rounds with the seed ${seed}.`)
    const { lost, doubled, stuck } = await faultRounds(stack, { rounds, seed, tell: console.log })
    console.log(`faults rounds=${rounds} lost=${lost} doubled=${doubled} stuck=${stuck}`)
    if (lost + doubled + stuck > 0) throw new PlainError('something was lost, doubled or stuck.')
  } finally {
    await stack.stop()
    rmSync(home, { recursive: true, force: true })
  }
})
