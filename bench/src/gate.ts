// A page of 100 KB through the gate, beside a plain proxy on the same HTTP library: throughput, first byte, and a long run.
import { fork, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { Agent, request as httpRequest } from 'node:http'
import { fileURLToPath } from 'node:url'
import { median } from '@unvelt/core'

const ROUNDS = 9
const REQUESTS = 400
const AT_A_TIME = 16
const SEQUENTIAL = 200
const LONG_CONNECTIONS = 200
const LONG_MS = Number(process.argv[2] ?? 60) * 1000

const parts: ChildProcess[] = []
async function start(part: string, origin = ''): Promise<{ child: ChildProcess; port: number }> {
  const child = fork(fileURLToPath(new URL('lib/gate-part.js', import.meta.url)), [part, origin], {
    execArgv: ['--expose-gc'],
  })
  parts.push(child)
  const [{ port }] = (await once(child, 'message')) as [{ port: number }]
  return { child, port }
}

/** @returns When the first byte came, in ms. */
function ask(port: number, agent: Agent): Promise<number> {
  return new Promise((resolve, reject) => {
    const began = performance.now()
    const request = httpRequest(
      { host: '127.0.0.1', port, path: '/', headers: { accept: 'text/html' }, agent },
      (answer) => {
        let first = 0
        let size = 0
        answer.on('data', (piece: Buffer) => {
          first ||= performance.now() - began
          size += piece.length
        })
        answer.on('end', () => (size > 90_000 ? resolve(first) : reject(new Error(`only ${size} bytes`))))
        answer.on('error', reject)
      },
    )
    request.on('error', reject).end()
  })
}

async function throughput(port: number): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: AT_A_TIME })
  const began = performance.now()
  let left = REQUESTS
  await Promise.all(
    Array.from({ length: AT_A_TIME }, async () => {
      while (left-- > 0) await ask(port, agent)
    }),
  )
  agent.destroy()
  return REQUESTS / ((performance.now() - began) / 1000)
}

async function firstByte(port: number): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: 1 })
  const times: number[] = []
  for (let n = 0; n < SEQUENTIAL; n++) times.push(await ask(port, agent))
  agent.destroy()
  return median(times)
}

const memory = async (child: ChildProcess): Promise<number> => {
  child.send('memory')
  const [{ rss }] = (await once(child, 'message')) as [{ rss: number }]
  return rss / 1e6
}

const site = await start('site')
const origin = `http://127.0.0.1:${site.port}`
const proxy = await start('proxy', origin)
const gate = await start('gate', origin)
const bare: number[] = []
const rewritten: number[] = []
const waits: number[] = []
await throughput(proxy.port)
await throughput(gate.port)
for (let n = 0; n < ROUNDS; n++) {
  const turn = n % 2 === 0 ? [proxy, gate] : [gate, proxy]
  for (const one of turn) (one === proxy ? bare : rewritten).push(await throughput(one.port))
  const [plain, through] = [await firstByte(proxy.port), await firstByte(gate.port)]
  waits.push(through - plain)
}
console.log(
  `${median(bare).toFixed(0)} pages a second through the plain proxy, ${median(rewritten).toFixed(0)} through the gate`,
)
console.log(`first byte ${median(waits).toFixed(2)} ms later (goal 5)`)

const agent = new Agent({ keepAlive: true, maxSockets: LONG_CONNECTIONS })
const until = performance.now() + LONG_MS
let done = 0
let failed = 0
const sizes: number[] = []
const watch = (async () => {
  for (; performance.now() < until; await new Promise((resolve) => setTimeout(resolve, Math.max(200, LONG_MS / 20))))
    sizes.push(await memory(gate.child))
})()
await Promise.all(
  Array.from({ length: LONG_CONNECTIONS }, async () => {
    while (performance.now() < until)
      await ask(gate.port, agent).then(
        () => done++,
        () => failed++,
      )
  }),
)
await watch
agent.destroy()
const [early, late] = [sizes.slice(3, 8), sizes.slice(-5)].map((some) => median(some)) as [number, number]
console.log(
  `${LONG_CONNECTIONS} connections for ${LONG_MS / 1000} s: ${done} pages, ${failed} errors; memory ${early.toFixed(0)} MB early, ${late.toFixed(0)} MB late`,
)
for (const part of parts) part.kill()
console.log(`gate ratio=${(median(rewritten) / median(bare)).toFixed(3)} goal=0.8`)
