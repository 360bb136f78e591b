// npm run connector-check -- URL --key KEY [--write]: holds any connector against the protocol.
import { runMain } from './lib/fail.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

await runMain(async () => {
  await ensureNodeModules()
  await ensureBuilt()
})
await import('../server/dist/connector-check/main.js')
