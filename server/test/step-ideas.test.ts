import 'reflect-metadata'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { StepIdea, StepIdeas } from '@unvelt/contract'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { Browsers } from '../src/browser/browsers.js'
import { asKind, OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { SiteRow } from '../src/site/site.model.js'
import { chosenForIdeas } from '../src/step-idea/pages-to-look-at.js'
import { readStepIdeas } from '../src/worker/read-step-ideas.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest } from './app-for-test.js'

/** A site of one page, with what opens, what only says so, a search, a basket, and a form that nobody may send unasked. */
const PAGE = `<!doctype html><title>Millpond</title><header>
  <button id="menu" aria-expanded="false" onclick="const is = menu.getAttribute('aria-expanded') === 'true'; menu.setAttribute('aria-expanded', !is); list.hidden = is">Menu</button>
  <ul id="list" hidden><li><a href="/visit">Visit the mill</a></li></ul>
  <form action="/find"><input name="q" aria-label="Words"></form></header>
  <main><h1>Otters and reeds</h1><button aria-expanded="false">Broken part</button>
  <form method="post" action="/ask"><h2>Ask us</h2><input name="action" required><input type="email" name="mail" required><button>Send it</button></form>
  <form method="post" action="/basket"><button>Take one</button></form><a href="/basket">Basket (0)</a></main>`
const FOUND =
  '<!doctype html><title>Found</title><h1>Found</h1><a href="/reeds">All about otters</a><a href="/old">Old mill</a>'

let server: Server
const posted: string[] = []
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let site: string
let isDown = false
const browsers = new Browsers(() => launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium'))

beforeAll(async () => {
  server = createServer((request, response) => {
    if (isDown) return request.socket.destroy()
    request.resume()
    const { pathname } = new URL(request.url!, 'http://x')
    if (request.method === 'POST') posted.push(pathname)
    const body = pathname === '/find' ? FOUND : pathname === '/basket' ? PAGE.replace('(0)', '(1)') : PAGE
    response.setHeader('content-type', 'text/html').end(pathname === '/' || body !== PAGE ? body : 'Nothing')
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const { body } = await t.call('POST', '/sites', { address, withoutConnector: true, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await browsers.close()
  await db?.close()
  await t?.stop()
  server?.closeAllConnections()
  server?.close()
})

async function look(): Promise<StepIdeas> {
  const begun = await t.call('POST', `${site}/step-ideas`)
  expect(begun).toMatchObject({ status: 202, body: { state: 'waiting', looked: 0, ideas: [] } })
  const [row] = await OnDemandRow.findAll({ order: [['id', 'desc']], limit: 1 })
  await row!.update({ wish: { pages: ['desk', 'handset'].map((device) => ({ path: '/', kind: 'page', device })) } })
  await runReadOnDemand(workerTools(db, { browsers }), { id: row!.id }, aHold)
  return (await t.call('GET', `${site}/step-ideas`)).body[0]
}

it('each thing that the page has is tried, with what it brings as what is expected; what sends is not', async () => {
  expect((await t.call('GET', `${site}/step-ideas`)).body).toEqual([])
  const { ideas, ...rest } = await look()
  expect(rest).toMatchObject({ state: 'done', failure: null, pages: 2, looked: 2, failed: [] })
  const of = (name: string): StepIdea | undefined => ideas.find(({ step }) => step.name === name)
  expect(of('see the heading')).toMatchObject({ works: true, device: 'desk', kinds: ['page'] })
  expect(of('open Menu')).toMatchObject({
    works: true,
    step: {
      kind: 'page',
      actions: [
        { do: 'click', at: 'role=button[name="Menu"]' },
        { do: 'expect', at: 'role=link[name="Visit the mill"]' },
      ],
    },
  })
  expect(of('search for otters')).toMatchObject({
    works: true,
    step: {
      actions: [{ text: 'otters' }, { do: 'press' }, { do: 'expect', at: 'role=link[name="All about otters"]' }],
    },
  })
  expect(of('put in Take one')?.step.actions.at(-1)).toEqual({ do: 'expect', at: 'role=link[name="Basket (1)"]' })
  // It says that it opens something, and doesn't.
  expect(of('open Broken part')).toMatchObject({ works: false })
  expect(of('send Ask us')).toMatchObject({ works: null, step: { sends: true } })
  expect(posted).toContain('/basket')
  expect(posted).not.toContain('/ask')
  // What both devices have is offered once.
  expect(new Set(ideas.map(({ step }) => step.name)).size).toBe(ideas.length)
}, 300_000)

it('what was added is offered no more', async () => {
  const [{ ideas }] = (await t.call('GET', `${site}/step-ideas`)).body as [StepIdeas]
  const { step } = ideas.find(({ works }) => works)!
  expect((await t.call('PUT', `${site}/steps`, { steps: [step] })).status).toBe(200)
  const [now] = (await t.call('GET', `${site}/step-ideas`)).body as [StepIdeas]
  expect(now.ideas).toHaveLength(ideas.length - 1)
  expect(now.ideas.map((idea) => idea.step.name)).not.toContain(step.name)
})

it('whoever goes on after a kill knows what was found before, whatever order the database gives its keys', async () => {
  await t.call('POST', `${site}/step-ideas`)
  const [before, row] = (await OnDemandRow.findAll({ order: [['id', 'desc']], limit: 2 })).reverse()
  const pages = ['desk', 'handset'].map((device) => ({ path: '/', kind: 'page', device }))
  const { ideas } = asKind(before!, 'ideas')!.taken
  await row!.update({ wish: { pages }, taken: { looked: 1, ideas, failed: [] } })
  await runReadOnDemand(workerTools(db, { browsers }), { id: row!.id }, aHold)
  await row!.reload()
  expect(asKind(row!, 'ideas')!.taken).toMatchObject({ looked: 2 })
  expect(asKind(row!, 'ideas')!.taken.ideas).toHaveLength(ideas.length)
}, 300_000)

it('a page that can’t be read is told, and two can’t look at once', async () => {
  isDown = true
  const { failed, looked, state } = await look()
  isDown = false
  expect({ looked, state }).toEqual({ looked: 2, state: 'done' })
  expect(failed).toHaveLength(2)
  expect(failed[0]).toMatchObject({ path: '/' })
  await t.call('POST', `${site}/step-ideas`)
  expect((await t.call('POST', `${site}/step-ideas`)).status).toBe(409)
  // Stopped, nothing more is looked at, and somebody can look anew.
  expect(await t.call('POST', `${site}/step-ideas/stop`)).toMatchObject({
    status: 200,
    body: { state: 'done', looked: 0 },
  })
  const [row] = await OnDemandRow.findAll({ order: [['id', 'desc']], limit: 1 })
  await row!.update({ state: 'done' })
  await readStepIdeas({ ...workerTools(db, { browsers }), site: (await SiteRow.findOne())!, key: null, keep: () => Promise.reject(new Error('nothing is kept')) }, asKind(row!, 'ideas')!) // prettier-ignore
  expect((await t.call('POST', `${site}/step-ideas/stop`)).status).toBe(409)
}, 300_000)

it('of each kind the page that most see is looked at, and one for each add-on that is on none of these', () => {
  const pages = [
    { id: 1, kind: 'page', views: 5 },
    { id: 2, kind: 'page', views: 90 },
    { id: 3, kind: 'event', views: 3 },
    { id: 4, kind: 'page', views: 40 },
  ]
  const used = [
    { slug: 'form', pageId: 1 },
    { slug: 'form', pageId: 4 },
    { slug: 'menu', pageId: 2 },
    { slug: 'gone', pageId: 99 },
  ]
  expect(chosenForIdeas(pages, used).map(({ id }) => id)).toEqual([2, 3, 4])
})
