import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { causeJob } from '../src/complaint/cause-job.js'
import { runPageJob } from '../src/worker/page-job.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { askSite } from '../../testing/ask-site.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** An update breaks a page, and is traced to its file by the live page alone. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let browser: Browser
let site: string
let article: number
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  process.env.STANDIN_PAGES = '1000'
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  const { body: pages } = await t.call('GET', `${site}/pages`)
  article = pages.find(({ path }: { path: string }) => path === '/articles/counting-rings').id
})
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
})

const tools = () => workerTools(db, { browser })
const install = async (version: string) => {
  await askSite(t.standin.address, '/unvelt/v1/add-ons/code-colours/install', {
    method: 'POST',
    headers: { authorization: `Bearer ${KEY}` },
    body: { version },
  })
  await t.call('POST', `${site}/refresh`)
}
async function sweep(): Promise<void> {
  const { body } = await t.call('POST', `${site}/sweeps`, { pageIds: [article], repeats: 1 })
  await runPageJob(tools(), { sweepId: body.id, pageId: article }, aHold)
}
const complaints = async () => (await t.call('GET', `${site}/pages/${article}/complaints`)).body
const isError = ({ kind }: { kind: string }) => kind === 'errors'
const find = (wish: object) => t.call('POST', `${site}/pages/${article}/complaints/searches`, wish)

it('the update that broke a page is found, with its file, and nobody who visits gets any of it', async () => {
  await sweep()
  const first = await complaints()
  expect(first).toMatchObject({ earlierAt: null, changed: [], searches: [] })
  expect(first.complaints.filter(isError)).toEqual([])
  await install('4.1.0')
  await sweep()
  const heard = await complaints()
  expect(heard.complaints.filter(isError)).toEqual([
    { kind: 'errors', text: expect.stringContaining('colourTables is not defined'), isNew: true },
  ])
  expect(heard.changed).toEqual([{ slug: 'code-colours', name: 'Code Colours', from: '4.0.0', to: '4.1.0' }])

  // What was heard before as well is not new.
  expect(heard.complaints.filter(({ isNew }: { isNew: boolean }) => isNew)).toHaveLength(1)
  const [{ kind, text }] = heard.complaints.filter(isError)
  expect((await find({ kind, text: 'never said' })).status).toBe(409)
  expect((await find({ kind: 'moods', text })).status).toBe(422)
  // Of the site it is told too, with the page, and not what was heard before.
  const { body: ofSite } = await t.call('GET', `${site}/complaints`)
  expect(ofSite).toMatchObject({ earlierAt: expect.any(String) })
  expect(ofSite.news).toEqual([{ kind, text, pages: [expect.objectContaining({ id: article })] }])
  const { status, body: begun } = await find({ kind, text })
  expect(status).toBe(201)
  expect(begun).toMatchObject({ state: 'running', stages: [] })
  expect((await find({ kind, text })).status).toBe(409)
  // Killed behind some of its answers it goes on from there.
  let answers = 0
  const killed = {
    ...aHold,
    async progressed() {
      if (++answers === 3) throw new Error('the process ends here')
    },
  }
  await expect(causeJob(tools()).run({ id: begun.id }, killed)).rejects.toThrow('ends here')
  const tried = (await complaints()).searches[0].stages[0].tries.length
  expect(tried).toBe(3)
  await causeJob(tools()).run({ id: begun.id }, aHold)

  const [search] = (await complaints()).searches
  expect(search).toMatchObject({ state: 'done', guilty: [{ slug: 'code-colours', version: '4.1.0' }] })
  const [addOns, features, files, versions] = search.stages
  expect(addOns).toMatchObject({ level: 'addon', outcome: 'found', found: ['code-colours'] })
  // It is another version than before, so it is asked for first.
  expect(addOns.suspects[0]).toMatchObject({ id: 'code-colours', reasons: expect.arrayContaining(['changed']) })
  expect(addOns.suspects.length).toBeGreaterThan(15)
  expect(addOns.tries.length).toBeLessThan(6)
  expect(features).toMatchObject({ level: 'feature', outcome: 'found', found: ['text'] })
  expect(files).toMatchObject({ level: 'file', outcome: 'found' })
  // The pack does nothing until the add-on's own script calls it.
  expect(files.found.map((file: string) => file.split('/').at(-1)).sort()).toEqual(['code-colours.js', 'pack-text.js'])
  expect(search.place).toMatch(/\/add-ons\/code-colours\/pack-text\.js:\d+:\d+$/)
  // The version before is tried in its place, and does not complain; nothing is installed by that.
  expect(versions).toMatchObject({
    level: 'version',
    outcome: 'found',
    found: ['4.0.0'],
    tries: [{ changes: ['4.0.0'], fails: false, readings: 1 }],
  })
  // The page is cut down to what it complains for, in the measuring browser alone.
  const smaller = async () => (await t.call('GET', `/cause-searches/${search.id}/smaller`)).body
  expect(await smaller()).toMatchObject({ state: 'none', html: null })
  expect((await t.call('GET', `/cause-searches/${search.id}/smaller/file`)).status).toBe(404)
  expect((await t.call('POST', `/cause-searches/${search.id}/smaller`)).status).toBe(202)
  expect((await t.call('POST', `/cause-searches/${search.id}/smaller`)).status).toBe(409)
  const [{ id: onDemand }] = await OnDemandRow.findAll({ where: { kind: 'smaller' } })
  let pieces = 0
  const dying = {
    ...aHold,
    async progressed() {
      if (++pieces === 4) throw new Error('the process ends here')
    },
  }
  await runReadOnDemand({ ...tools(), stopping: () => true }, { id: onDemand! }, dying).catch(() => {})
  const soFar = await smaller()
  expect(soFar).toMatchObject({ state: 'waiting', readings: 5, parts: expect.any(Number) })
  await runReadOnDemand(tools(), { id: onDemand! }, aHold)
  const cut = await smaller()
  expect(cut).toMatchObject({ state: 'done', failure: null })
  expect(cut.left).toBeLessThan(cut.parts / 10)
  for (const needed of ['pack-text.js', 'code-colours.js', '<pre class="code"']) expect(cut.html).toContain(needed)
  for (const needless of ['<nav', '<footer', 'rootlib']) expect(cut.html).not.toContain(needless)
  const file = await fetch(`${await t.app.getUrl()}/api/cause-searches/${search.id}/smaller/file`)
  expect(file.headers.get('content-disposition')).toContain('smallest-page.html')
  expect(file.headers.get('content-security-policy')).toBe('sandbox')
  expect(await file.text()).toContain(`<base href="${t.standin.address}/articles/counting-rings">`)
  const { body: here } = await t.call('GET', `${site}/add-ons`)
  expect(here.find(({ slug }: { slug: string }) => slug === 'code-colours').version).toBe('4.1.0')
  // The site's own rules are untouched.
  const rules = await askSite(t.standin.address, '/unvelt/v1/rules', { headers: { authorization: `Bearer ${KEY}` } })
  expect(JSON.parse(rules.text)).toMatchObject({ rules: [] })
})

it('what is mended meanwhile is said so, and a search can be stopped', async () => {
  await install('4.0.0')
  const [{ kind, text }] = (await complaints()).complaints.filter(isError)
  const { body: begun } = await find({ kind, text })
  await causeJob(tools()).run({ id: begun.id }, aHold)
  expect((await complaints()).searches[0]).toMatchObject({
    state: 'done',
    guilty: [],
    stages: [{ level: 'addon', outcome: 'never' }],
  })
  const { body: second } = await find({ kind, text })
  expect((await t.call('POST', `/cause-searches/${second.id}/stop`)).body).toMatchObject({ state: 'stopped' })
  await causeJob(tools()).run({ id: second.id }, aHold)
  expect((await complaints()).searches[0]).toMatchObject({ id: second.id, state: 'stopped', stages: [] })
})

it('of a site that tells nothing of itself the code is found by the folder that it lies in', async () => {
  await install('4.1.0')
  // The same site, of which Unvelt knows nothing but its address.
  await db.query('delete from site')
  const { body: plain, status } = await t.call('POST', '/sites', {
    address: t.standin.address,
    withoutConnector: true,
    local: true,
  })
  expect([status, plain]).toEqual([201, expect.objectContaining({ hasConnector: false, pagesFrom: 'sitemap' })])
  site = `/sites/${plain.id}`
  const { body: pages } = await t.call('GET', `${site}/pages`)
  article = pages.find(({ path }: { path: string }) => path === '/articles/counting-rings').id
  await sweep()
  const heard = (await complaints()).complaints.filter(isError)
  const told = heard.find(({ text }: { text: string }) => text.includes('colourTables'))
  const { status: asked, body: begun } = await find({ kind: told.kind, text: told.text })
  expect([asked, begun]).toEqual([201, expect.anything()])
  await causeJob(tools()).run({ id: begun.id }, aHold)
  const [search] = (await complaints()).searches
  expect(search).toMatchObject({ state: 'done' })
  expect(search.guilty.map(({ slug }: { slug: string }) => slug)).toEqual([expect.stringContaining('code-colours')])
  expect(search.place).toMatch(/\/add-ons\/code-colours\//)
})
