// What the interface asks for at 300 add-ons × 2,000 pages, while 20 clients ask, beside the same bytes sent from memory by a bare
// server to the same clients; and whether health answers meanwhile.
import { spawn } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { connect } from '@unvelt/server'
import { bareServer, sentFor, type Sent } from './lib/bare-server.js'
import { call, pause } from './lib/own-unvelt.js'
import { watchFrom } from './lib/health-watch.js'
import { fillLargeSite } from './lib/large-site.js'

const CLIENTS = 20
const SECONDS = 12
const VIEWS = [
  '/sites',
  '/sites/1/ledger',
  '/sites/1/ledger/cells?sweep=1',
  '/sites/1/add-ons',
  '/sites/1/pages',
  '/sites/1/standing',
  '/sites/1/drafts',
  '/sites/1/sweeps',
  '/sites/1/rules',
  '/sites/1/nowhere',
  '/sweeps/1/stale',
  '/sites/1/deployments',
  '/sites/1/lenses',
  '/sites/1/steps',
  '/sites/1/storage',
  '/sites/1/retirements',
  '/sites/1/rehearsals',
  '/sites/1/pictures',
  '/sites/1/files',
]
const address = `http://127.0.0.1:${process.env.UNVELT_PORT!}/api`
const server = spawn(process.execPath, [fileURLToPath(new URL('../../server/dist/main.js', import.meta.url))], {
  env: { ...process.env, UNVELT_LOG: 'warn' },
  stdio: ['ignore', 'ignore', 'inherit'],
})
const database = await connect(process.env.DATABASE_URL!)
const at = (times: number[], share: number) => [...times].sort((a, b) => a - b)[Math.ceil(times.length * share) - 1]!
const ms = (value: number) => `${value.toFixed(1)} ms`

try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(100)
  await fillLargeSite(database, { addOns: 300, pages: 2_000 })
  const bodies = new Map<string, Sent>()
  for (const view of VIEWS) bodies.set(view, await sentFor(address + view))
  const bare = await bareServer(bodies)
  const watch = watchFrom(`${address}/health`)
  const ours = await underLoad(address)
  const health = await watch.end()
  const theirs = await underLoad(bare.address)
  bare.stop()
  let worst = 0
  for (const view of VIEWS) {
    const [a, b] = [at(ours.get(view)!, 0.95), at(theirs.get(view)!, 0.95)]
    worst = Math.max(worst, a / b)
    console.log(
      `${view.padEnd(32)} ${(bodies.get(view)!.bytes.length / 1e3).toFixed(0).padStart(6)} KB, p95 ${ms(a)} of ${ours.get(view)!.length}, from memory ${ms(b)}`,
    )
  }
  console.log(`health meanwhile: p99 ${ms(at(health, 0.99))} of ${health.length} (goal 50 ms)`)
  console.log(`views ratio=${worst.toFixed(2)} goal=4`)
} finally {
  await database.close()
  server.kill('SIGINT')
}

/** Clients that each ask for one view after the other, from different beginnings; times by view, ms. */
async function underLoad(base: string): Promise<Map<string, number[]>> {
  const times = new Map(VIEWS.map((view) => [view, [] as number[]]))
  const until = performance.now() + SECONDS * 1_000
  const timed = async (url: string) => {
    const began = performance.now()
    await (await fetch(url)).arrayBuffer()
    return performance.now() - began
  }
  const client = async (n: number) => {
    for (let turn = n; performance.now() < until; turn++) {
      const view = VIEWS[turn % VIEWS.length]!
      times.get(view)!.push(await timed(base + view))
    }
  }
  await Promise.all(Array.from({ length: CLIENTS }, (_, n) => client(n)))
  return times
}
