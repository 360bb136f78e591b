import { spawn, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import { QueryTypes, Sequelize } from 'sequelize'
import type { Measure, PageSheet } from '@unvelt/contract'
import { appForTest, KEY } from './app-for-test.js'
import { ledgerCells } from './ledger-cells.js'

const WORKER = fileURLToPath(new URL('../dist/worker/worker.js', import.meta.url))
const SERVER = fileURLToPath(new URL('../dist/main.js', import.meta.url))

let t: Awaited<ReturnType<typeof appForTest>>
let site: string
const workers: ChildProcess[] = []

beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})

afterAll(async () => {
  for (const worker of workers) worker.kill('SIGTERM')
  await Promise.all(workers.filter((w) => w.exitCode === null && w.signalCode === null).map((w) => once(w, 'exit')))
  await t?.stop()
})

async function startWorker(): Promise<ChildProcess> {
  const worker = spawn(process.execPath, [WORKER], { env: { ...process.env, NODE_OPTIONS: '' } })
  workers.push(worker)
  await once(worker.stdout!, 'data')
  return worker
}

/** Follows the site's events until the sweep is as wanted. */
async function until(
  wanted: (sweep: { status: string; readings: number; atPages: string[] }) => boolean,
): Promise<void> {
  const response = await fetch(`${await t.app.getUrl()}/api${site}/events`)
  const chunks = response.body!.pipeThrough(new TextDecoderStream()).getReader()
  let text = ''
  for (;;) {
    const { value, done } = await chunks.read()
    if (done) throw new Error('the events ended')
    text += value
    const sweeps = [...text.matchAll(/^data: (\{.*\})$/gm)].map((m) => JSON.parse(m[1]!))
    if (sweeps.some(wanted)) return void (await chunks.cancel())
  }
}

/** The processes that a process has started, by the system's own account. */
const childrenOf = (pid: number) =>
  readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8').trim().split(' ').filter(Boolean).map(Number)

const whole = (sweep: number) => t.call('GET', `/sweeps/${sweep}`).then(({ body }) => body)

it('killed in mid-sweep loses nothing: another worker goes on, and no reading is there twice', async () => {
  const first = await startWorker()
  const pages = (await t.call('GET', `${site}/pages`)).body as { id: number }[]
  const midway = until((sweep) => sweep.readings >= 1)
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, {
    pageIds: pages.slice(0, 2).map((page) => page.id),
    repeats: 2,
  })
  await midway
  first.kill('SIGKILL')
  const end = until((s) => s.status === 'done')
  await startWorker()
  await end
  expect((await t.call('GET', `/sweeps/${sweep.id}`)).body).toMatchObject({
    status: 'done',
    readings: 4,
    readingsFailed: 0,
    pagesDone: 2,
  })
  const tolls = await t.app
    .get(Sequelize)
    .query<{ n: number }>(`select count(distinct page_id)::int n from toll where sweep_id = ${sweep.id}`, {
      type: QueryTypes.SELECT,
    })
  expect(tolls[0]!.n).toBe(2)
}, 600_000)

it('reads every page once before any again, and until then times are to come', async () => {
  const pages = ((await t.call('GET', `${site}/pages`)).body as { id: number }[]).slice(0, 4).map(({ id }) => id)
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: pages, repeats: 2 })
  await until((s) => s.readings >= 4)
  await t.call('POST', `/sweeps/${sweep.id}/pause`)
  const { body: ledger } = await t.call('GET', `${site}/ledger?sweep=${sweep.id}`)
  expect(ledger.untimedPages.length).toBeGreaterThan(0)
  const { body: sheet } = await t.call(
    'GET',
    `${site}/pages/${ledger.pages[ledger.untimedPages[0]].id}?sweep=${sweep.id}`,
  )
  expect(sheet).toMatchObject({ repeats: 1, timedRepeats: 0, timings: { load: null } })
  const times = await ledgerCells(t, site, ledger)
  const sumOf = (measure: Measure) => times.pageSum(ledger.pages[ledger.untimedPages[0]].id, measure)
  expect(sumOf('transferBytes')).toBeGreaterThan(1000)
  expect([sumOf('mainThreadMs'), sumOf('serverMs')]).toEqual([0, 0])
  const end = until((s) => s.status === 'done')
  await t.call('POST', `/sweeps/${sweep.id}/resume`)
  await end
  const order = await t.app
    .get(Sequelize)
    .query<{ repeat: number }>(`select repeat from reading where sweep_id = ${sweep.id} order by read_at`, {
      type: QueryTypes.SELECT,
    })
  expect(order.map(({ repeat }) => repeat)).toEqual([1, 1, 1, 1, 2, 2, 2, 2])
  const { body: whole } = await t.call('GET', `${site}/ledger?sweep=${sweep.id}`)
  expect(whole).toMatchObject({ untimedPages: [], sweep: { pagesDone: 4, pagesBegun: 0 } })
}, 600_000)

it('charges elements to the add-ons that wrote them on the server, by the marks that the site sets', async () => {
  const [page] = (await t.call('GET', `${site}/pages`)).body as { id: number }[]
  const { body } = await t.call('GET', `${site}/pages/${page!.id}`)
  const sheet = body as PageSheet
  expect(sheet.writersTold).toBe(true)
  const all = sheet.elementsBy.reduce((sum, { written, made }) => sum + written + made, 0)
  expect(all).toBeGreaterThan(100)
  const written = new Map(sheet.elementsBy.map((of) => [of.payer, of.written]))
  expect(written.get('pass-it-on')).toBeGreaterThan(1)
  expect(written.get('content')).toBeGreaterThan(20)
})

it('goes on with another browser when its own is killed', async () => {
  const worker = workers.at(-1)!
  const pages = (await t.call('GET', `${site}/pages`)).body as { id: number }[]
  // Both pages are at hand: one waits for the other's timed loads.
  const midway = until((s) => s.status === 'running' && s.readings >= 1 && s.atPages.length === 2)
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, {
    pageIds: [pages[0]!.id, pages[1]!.id],
    repeats: 2,
  })
  await midway
  const browsers = childrenOf(worker.pid!)
  expect(browsers.length).toBeGreaterThan(0)
  const end = until((s) => s.status === 'done' && s.readings === 4)
  for (const pid of browsers) process.kill(pid, 'SIGKILL')
  await end
  expect(await whole(sweep.id)).toMatchObject({ status: 'done', readings: 4, readingsFailed: 0, pagesDone: 2 })
}, 600_000)

it('goes on when the server that began the sweep is killed', async () => {
  const server = spawn(process.execPath, [SERVER], { env: { ...process.env, NODE_OPTIONS: '' } })
  const [said] = (await once(server.stdout, 'data')) as [Buffer]
  const { address } = JSON.parse(said.toString().split('\n')[0]!) as { address: string }
  const pages = (await t.call('GET', `${site}/pages`)).body as { id: number }[]
  const midway = until((s) => s.status === 'running' && s.readings >= 1)
  const answer = await fetch(`${address}/api${site}/sweeps`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ pageIds: [pages[0]!.id, pages[2]!.id], repeats: 1 }),
  })
  const { id } = (await answer.json()) as { id: number }
  await midway
  const end = until((s) => s.status === 'done' && s.readings === 2)
  server.kill('SIGKILL')
  await once(server, 'exit')
  await end
  expect(await whole(id)).toMatchObject({ status: 'done', readings: 2, readingsFailed: 0, pagesDone: 2 })
}, 600_000)
