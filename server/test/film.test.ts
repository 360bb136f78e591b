import 'reflect-metadata'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import sharp from 'sharp'
import type { FilmView } from '@unvelt/contract'
import { launchBrowser } from '../src/browser/browser.js'
import { Browsers } from '../src/browser/browsers.js'
import { connect } from '../src/database/connect.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { ProofRow } from '../src/proof/proof.model.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { SOURCES } from './a-reading.js'
import { appForTest } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** A load is filmed: what was painted when, on a page that changes its colour twice. */
const PAGE = `<!doctype html><title>Colours</title><link rel="icon" href="data:,"><body style="margin:0;background:#ff0000">
  <script src="/late.js" defer></script><script>
  setTimeout(() => (document.body.style.background = '#0000ff'), 320)</script>`
let site: Server
let isDown = false
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let proof: ProofRow
let pageId: number
const browsers = new Browsers(() => launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium'))

beforeAll(async () => {
  site = createServer((request, response) => {
    if (isDown) return void request.socket.destroy()
    if (request.url === '/late.js')
      return void response.setHeader('content-type', 'text/javascript').end('var late = 1')
    if (request.url !== '/') return void response.writeHead(404).end()
    response.setHeader('content-type', 'text/html').end(PAGE)
  })
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve))
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const address = `http://127.0.0.1:${(site.address() as AddressInfo).port}`
  const { body } = await t.call('POST', '/sites', { address, withoutConnector: true, local: true })
  const path = `/sites/${body.id}`
  pageId = (await t.call('GET', `${path}/pages`)).body[0].id
  const [{ id: lensId }] = (await t.call('GET', `${path}/lenses`)).body
  const sweep = await SweepRow.create({
    siteId: body.id,
    lensId,
    purpose: 'proof',
    status: 'done',
    repeats: 5,
    variants: [],
    sources: { ...SOURCES, ownHosts: [new URL(address).host] },
  })
  const made = { siteId: body.id, sweepId: sweep.id, title: 'A change', fromVersion: 0, toVersion: 1 }
  proof = await ProofRow.create(made as never)
})
afterAll(async () => {
  await browsers.close()
  await db?.close()
  await t?.stop()
  site?.closeAllConnections()
  site?.close()
})

const film = async (): Promise<FilmView> => (await t.call('GET', `/proofs/${proof.id}/pages/${pageId}/film`)).body
async function take(): Promise<void> {
  expect((await t.call('POST', `/proofs/${proof.id}/pages/${pageId}/film`)).status).toBe(202)
  const row = await OnDemandRow.findOne({ where: { kind: 'film' }, order: [['id', 'desc']] })
  await runReadOnDemand(workerTools(db, { browsers }), { id: row!.id }, aHold)
}

it('shows every colour at the moment at which the page had it, on both sides', async () => {
  expect(await film()).toEqual({ id: null, state: 'none', failure: null, takenAt: null, loads: [] })
  await take()
  const { id, state, failure, loads } = await film()
  expect([state, failure]).toEqual(['done', null])
  expect(loads.map(({ side }) => side)).toEqual(['before', 'after'])
  for (const { side, frames, firstPaintMs, loadMs, lanes } of loads) {
    expect(frames[0]).toBe(0)
    expect([...frames].sort((a, b) => a - b)).toEqual(frames)
    const colours = await Promise.all(frames.map((_, n) => middleOf(id!, side, n)))
    const [red, blue] = [colours.indexOf('red'), colours.indexOf('blue')]
    expect(colours.filter((colour) => colour === 'red' || colour === 'blue')).toEqual(['red', 'blue'])
    // By the page's own clock: nothing is seen before it was painted, and the other colour not before its time.
    expect(frames[red]!).toBeGreaterThan(0)
    expect(frames[blue]! - frames[red]!).toBeGreaterThan(60)
    expect(frames[blue]!).toBeGreaterThanOrEqual(315)
    expect(firstPaintMs === null || firstPaintMs <= frames[blue]!).toBe(true)
    expect(loadMs).toBeGreaterThan(0)
    expect(lanes.map(({ name, spans }) => [name, spans.length])).toEqual([
      ['Content', 1],
      ['Unassigned', 1],
    ])
  }
})

it('a film that can’t be taken says why, and the next one is taken anew', async () => {
  isDown = true
  await take()
  const failed = await film()
  expect(failed).toMatchObject({ state: 'done', loads: [] })
  expect(failed.failure).toMatch(/closed the connection/)
  isDown = false
  await take()
  expect((await film()).loads).toHaveLength(2)
  // Pictures are kept of the newest one.
  const [ids] = await db.query('select distinct reading_on_demand_id id from film_frame')
  expect(ids).toEqual([{ id: (await film()).id }])
})

it('a frame that is none is not found', async () => {
  const { id } = await film()
  for (const path of [
    `/films/${id}/before/9999`,
    `/films/${id}/beside/0`,
    `/films/${id}/before/x`,
    '/films/999999/before/0',
  ])
    expect([path, (await t.call('GET', path)).status]).toEqual([path, 404])
})

/** The colour in the middle of a frame, in a word. */
async function middleOf(id: number, side: string, n: number): Promise<string> {
  const response = await fetch(`${await t.app.getUrl()}/api/films/${id}/${side}/${n}`)
  expect(response.headers.get('content-type')).toBe('image/jpeg')
  const { data, info } = await sharp(Buffer.from(await response.arrayBuffer()))
    .raw()
    .toBuffer({ resolveWithObject: true })
  const at = (Math.floor(info.height / 2) * info.width + Math.floor(info.width / 2)) * info.channels
  const [r, g, b] = [data[at]!, data[at + 1]!, data[at + 2]!]
  return r > 200 && b < 60 ? 'red' : b > 200 && r < 60 ? 'blue' : `${r} ${g} ${b}`
}
