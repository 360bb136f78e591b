import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { endComparing } from '../src/picture/compare-pictures.js'
import { runRehearsal } from '../src/rehearsal/run-rehearsal.js'
import { SiteRow } from '../src/site/site.model.js'
import { ReadingFailure } from '../src/reading/failure.js'
import { askSite } from '../../testing/ask-site.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** Drafts on the stand-in's pages, rehearsed by the site itself. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let browser: Browser
let site: string
let pages: { id: number; path: string }[]
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  pages = (await t.call('GET', `${site}/pages`)).body
  // What steps bring to hand is tried elsewhere, and taking them is most of a look.
  await SiteRow.update({ steps: [] }, { where: { id: body.id } })
})
afterAll(async () => {
  await endComparing()
  await browser?.close()
  await db?.close()
  await t?.stop()
})
afterEach(() => t.call('DELETE', `${site}/drafts`))

const idOf = (path: string) => pages.find((page) => page.path === path)!.id
const draft = (addon: string, path: string, effect = 'leave-out') =>
  t.call('POST', `${site}/drafts`, { rules: [{ addon, effect, place: { level: 'page', path } }] })
const run = (id: number, hold = aHold) => runRehearsal(workerTools(db, { browser }), { id }, hold)
const start = (wish: object = {}) => t.call('POST', `${site}/rehearsals`, wish)

it('asks for drafts first', async () => {
  expect(await start()).toMatchObject({ status: 409, body: { title: 'There is no draft to rehearse.' } })
})

it('a form that goes with its add-on is missed, can be accepted for these drafts, and lets them go live', async () => {
  await draft('enquiry-form', '/contact', 'skip')
  const { status, body: begun } = await start({ pageIds: [idOf('/contact')] })
  expect(status).toBe(201)
  expect(begun).toMatchObject({ state: 'running', pages: 2, pagesDone: 0, mechanism: 'site', passed: false })
  expect((await start()).status).toBe(409)
  const unrehearsed = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none' })
  expect(unrehearsed.status).toBe(428)
  expect(unrehearsed.body.title).toMatch('have not been rehearsed')

  await run(begun.id)
  const { body: sheet } = await t.call('GET', `/rehearsals/${begun.id}`)
  expect(sheet).toMatchObject({ state: 'done', pagesDone: 2, stale: null, passed: false, touched: 1, lookedAt: 1 })
  // What goes alike for all is looked at at a desk and on a handset, and once as a visitor.
  expect(sheet.each.map(({ lens }: { lens: string }) => lens.split(',')[0])).toEqual(['Desk', 'Handset'])
  const [page] = sheet.each
  expect(page).toMatchObject({ path: '/contact', state: 'done' })
  const guard = (name: string) => page.guards.find((one: { guard: string }) => one.guard === name)
  expect(guard('fields').outcome).toBe('fails')
  expect(guard('fields').gone.join()).toMatch('Message')
  expect(guard('answer').outcome).toBe('holds')
  expect(guard('errors').outcome).toBe('holds')
  expect(page.went.join()).toMatch('/enquiry-form/')
  expect(page.measured.requests.after).toBeLessThan(page.measured.requests.before)
  const picture = await fetch(
    `${await t.app.getUrl()}/api/rehearsals/${begun.id}/pictures/${page.pageId}/${page.lensId}/with`,
  )
  expect(picture.headers.get('content-type')).toBe('image/jpeg')

  const refused = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none' })
  expect(refused).toMatchObject({ status: 428, body: { title: expect.stringMatching('guards? fails?') } })
  const place = { pageId: page.pageId, lensId: page.lensId }
  const accept = (guard: string, at: object = place) =>
    t.call('POST', `/rehearsals/${begun.id}/accept`, { ...at, guard, note: 'Moved to the ticket desk.' })
  expect((await accept('answer')).status).toBe(409)
  const failing = sheet.each.flatMap(({ guards, pageId, lensId }: typeof page) =>
    guards
      .filter(({ outcome }: { outcome: string }) => outcome === 'fails')
      .map(({ guard }: { guard: string }) => ({ guard, pageId, lensId })),
  )
  for (const { guard, ...at } of failing) await accept(guard, at)
  const { body: accepted } = await t.call('GET', `/rehearsals/${begun.id}`)
  expect(accepted).toMatchObject({ passed: true, failing: 0, accepted: failing.length })
  expect(accepted.each[0].guards.find((one: { guard: string }) => one.guard === 'fields').accepted.note).toMatch(
    'Moved',
  )
  await t.call('POST', `/rehearsals/${begun.id}/unaccept`, { ...place, guard: 'fields' })
  expect((await t.call('GET', `/rehearsals/${begun.id}`)).body.passed).toBe(false)
  await accept('fields')

  // Other drafts are another matter.
  await draft('pass-it-on', '/about')
  expect((await t.call('GET', `/rehearsals/${begun.id}`)).body).toMatchObject({
    passed: false,
    stale: expect.any(String),
  })
})

it('goes on where it was broken off, keeps the drafts at the site anew, and no visitor ever sees them', async () => {
  await draft('pass-it-on', '/about')
  const visitor = async () => (await askSite(t.standin.address, '/about')).text
  const before = await visitor()
  expect(before).toContain('/pass-it-on/')
  const { body: begun } = await start({ pageIds: [idOf('/about')] })
  let readings = 0
  const broken = { ...aHold, check: () => void (++readings === 3 && fail()) }
  const fail = () => {
    throw new Error('the worker was ended')
  }
  await expect(
    runRehearsal(workerTools(db, { browser, stopping: () => true }), { id: begun.id }, broken),
  ).rejects.toThrow('ended')
  expect(await visitor()).toBe(before)
  await run(begun.id)
  const { body: sheet } = await t.call('GET', `/rehearsals/${begun.id}`)
  expect(sheet).toMatchObject({ state: 'done', pagesDone: 2 })
  expect(sheet.each[0].stayed).toEqual([])
  expect(sheet.each[0].went.join()).toMatch('/pass-it-on/')
  expect(await visitor()).toBe(before)
})

it('a site that keeps no drafts is passed through the rewriter, and the back office needs somebody who may see it', async () => {
  const { connector, id } = (await SiteRow.findOne())!
  await SiteRow.update(
    { connector: { ...connector!, measuring: { ...connector!.measuring!, drafts: false } } },
    { where: { id } },
  )
  try {
    await draft('pass-it-on', '/about')
    const elsewhere = await start({ pageIds: [idOf('/contact')] })
    expect(elsewhere).toMatchObject({ status: 409, body: { title: 'The drafts touch none of these pages.' } })
    const { body: begun } = await start({ pageIds: [idOf('/about')] })
    expect(begun.mechanism).toBe('rewriter')
    await run(begun.id)
    const { body: sheet } = await t.call('GET', `/rehearsals/${begun.id}`)
    expect(sheet.each[0]).toMatchObject({ state: 'done', stayed: [] })
    expect(sheet.each[0].went.join()).toMatch('/pass-it-on/')
    expect(sheet.each[0].guards.find(({ guard }: { guard: string }) => guard === 'errors').outcome).toBe('holds')

    await t.call('DELETE', `${site}/drafts`)
    await t.call('POST', `${site}/drafts`, {
      rules: [{ addon: 'pass-it-on', effect: 'leave-out', place: { level: 'area', area: 'office' } }],
    })
    expect((await start()).body.title).toMatch('no page that a lens can see')
  } finally {
    await SiteRow.update({ connector: connector! }, { where: { id } })
  }
})

it('nothing goes on behind the end of a job that Unvelt itself broke off', async () => {
  await draft('pass-it-on', '/about')
  const { body: begun } = await start({ pageIds: [idOf('/about')] })
  let [turns, open] = [0, 0]
  const tools = workerTools(db, { browser })
  const shared = async () => {
    open++
    // The first page meets the trouble while the second one is being read.
    await new Promise((resolve) => setTimeout(resolve, turns++ === 0 ? 50 : 400))
    open--
    throw Object.assign(new Error('the database system is shutting down'), { name: 'SequelizeConnectionError' })
  }
  Object.assign(tools.browsers, { shared })
  await expect(runRehearsal({ ...tools, stopping: () => true }, { id: begun.id }, aHold)).rejects.toThrow(
    'shutting down',
  )
  expect([turns, open]).toEqual([2, 0])
  await t.call('POST', `/rehearsals/${begun.id}/stop`)
})

it('is stopped, and a page that can’t be read is said and fails nothing else', async () => {
  await draft('pass-it-on', '/about')
  const { body: stopped } = await start({ pageIds: [idOf('/about')] })
  expect((await t.call('POST', `/rehearsals/${stopped.id}/stop`)).body.state).toBe('stopped')
  await run(stopped.id)
  expect((await t.call('GET', `/rehearsals/${stopped.id}`)).body).toMatchObject({ state: 'stopped', pagesDone: 0 })

  const { body: begun } = await start({ pageIds: [idOf('/about')] })
  const refusing = { launch: () => Promise.reject(new ReadingFailure('The page answered 500.')) }
  const tools = workerTools(db, { browser })
  Object.assign(tools.browsers, { shared: refusing.launch })
  await runRehearsal(tools, { id: begun.id }, aHold)
  const { body: sheet } = await t.call('GET', `/rehearsals/${begun.id}`)
  expect(sheet).toMatchObject({ state: 'done', unread: 2, passed: false })
  expect(sheet.each[0]).toMatchObject({ state: 'failed', failure: 'The page answered 500.' })
})
