// npm run record-past: makes the demo's past again. Brings the stand-in to each state of scripts/lib/past-states.mjs in
// turn, sweeps it with the real engine, and writes what was measured to demo/past.br. Takes about an hour.
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { runMain } from './lib/fail.mjs'
import { savePast } from './lib/past.mjs'
import { bringTo, connectorOf, PAST } from './lib/past-states.mjs'
import { freePort } from './lib/ports.mjs'
import { startStack } from './lib/stack.mjs'
import { ensureSystemPackages } from './lib/system-packages.mjs'
import { ensureBuilt, ensureNodeModules } from './lib/workspace.mjs'

const ASK_EVERY_MS = 3_000

await runMain(async () => {
  await ensureSystemPackages()
  await ensureNodeModules()
  await ensureBuilt()
  const home = mkdtempSync(join(tmpdir(), 'unvelt-past-'))
  chmodSync(home, 0o755)
  const stack = await startStack({ home, port: await freePort(), standinPort: await freePort(), throwaway: true })
  try {
    const connector = connectorOf(stack)
    await bringTo(PAST[0], connector)
    const site = await api(stack, 'POST', '/sites', {
      address: stack.standinAddress,
      connectorKey: stack.connectorKey,
      local: true,
    })
    for (const state of PAST) {
      await bringTo(state, connector)
      const sweep = await api(stack, 'POST', `/sites/${site.id}/sweeps`, { repeats: state.repeats })
      for (let now = sweep; now.status === 'running';) {
        await new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS))
        now = await api(stack, 'GET', `/sweeps/${sweep.id}`)
        process.stdout.write(
          `\r${state.daysAgo} days ago: ${now.readings} of ${now.readingsPlanned} readings, ${now.readingsFailed} failed  `,
        )
      }
      console.log()
    }
    await savePast(stack)
  } finally {
    await stack.stop()
    rmSync(home, { recursive: true, force: true })
  }
})

async function api({ address }, method, path, body) {
  const response = await fetch(`${address}/api${path}`, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body && { body: JSON.stringify(body) }),
  })
  const answer = await response.json()
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${JSON.stringify(answer)}`)
  return answer
}
