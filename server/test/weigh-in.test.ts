import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { PageRow } from '../src/page/page.model.js'
import { ReadingRow } from '../src/reading/reading.model.js'
import { readDetail } from '../src/reading/reading-store.js'
import { SiteRow } from '../src/site/site.model.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { runPageJob } from '../src/worker/page-job.js'
import { askSite } from '../../testing/ask-site.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** Variants of the stand-in's pages, read in turn under what the site can try. */
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
})
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
})

const idOf = (path: string) => pages.find((page) => page.path === path)!.id
const weigh = (wish: object) => t.call('POST', `${site}/weigh-ins`, { repeats: 3, ...wish })
const read = ({ sweep, pageIds }: { sweep: { id: number }; pageIds: number[] }) =>
  Promise.all(pageIds.map((pageId) => runPageJob(workerTools(db, { browser }), { sweepId: sweep.id, pageId }, aHold)))
const connector = async (path: string) =>
  (await askSite(t.standin.address, `/unvelt/v1${path}`, { headers: { authorization: `Bearer ${KEY}` } })).text
/** All that the site has by name: its add-ons with version, tables and tasks, its files, its leftovers. What pages count goes on. */
const traces = async () => {
  const [inventory, assets, leftovers] = await Promise.all(['/inventory', '/assets', '/leftovers'].map(connector))
  const { addOns } = JSON.parse(inventory!) as {
    addOns: { slug: string; version: string; tables: { name: string }[]; tasks: object[] }[]
  }
  return [
    ...addOns.map(({ slug, version, tables, tasks }) =>
      [slug, version, ...tables.map(({ name }) => name), tasks.length].join(' '),
    ),
    ...Object.keys((JSON.parse(assets!) as { files: object }).files),
    ...(JSON.parse(leftovers!) as { leftovers: { id: string }[] }).leftovers.map(({ id }) => id),
  ]
}

it('the paid edition, another add-on and none are held against what is there, and leave no trace at the site', async () => {
  const before = await traces()
  expect(before.join(' ')).toContain('tally_views')
  const { body: shelf } = await t.call('GET', `${site}/shelf`)
  expect(shelf.canTry).toBe(true)
  expect(shelf.addOns).toContainEqual(
    expect.objectContaining({ slug: 'pass-it-on', version: '3.0.4-plus', installed: '3.0.4' }),
  )
  const variants = [
    { name: 'As it is' },
    { name: 'Paid edition', versions: [{ addon: 'pass-it-on', version: '3.0.4-plus' }], price: 49 },
    { name: 'Plain Share', without: ['pass-it-on'], versions: [{ addon: 'plain-share', version: '1.2.0' }] },
    { name: 'With a tally', versions: [{ addon: 'gate-tally', version: '4.0.2' }] },
  ]
  const pageIds = [idOf('/about')]
  const { status, body: begun } = await weigh({ pageIds, variants })
  expect(status).toBe(201)
  expect(begun).toMatchObject({ status: 'running', sweep: { purpose: 'weigh-in', readingsPlanned: 12 }, pages: [] })
  await read({ ...begun, pageIds })

  const { body: done } = await t.call('GET', `/weigh-ins/${begun.id}`)
  expect(done).toMatchObject({ status: 'done', sweep: { readings: 12, readingsFailed: 0 } })
  const [{ figures, looks }] = done.pages
  const [asItIs, paid, plain, tally] = figures.requests
  expect([asItIs.word, asItIs.after]).toEqual(['', asItIs.before])
  // Four scripts, a style and two typefaces more, and nothing to be seen that was not there before.
  expect(paid).toMatchObject({ difference: 7, word: 'worse' })
  expect(figures.elements[1].difference).toBe(5)
  expect(figures.transferBytes[1].difference).toBeGreaterThan(20_000)
  expect(figures.idleBytes.map((one: { afterReadings: number[] }) => one.afterReadings.length)).toEqual([1, 1, 1, 1])
  expect(plain.difference).toBeLessThan(0)
  expect(tally.difference).toBe(0)
  expect(figures.queries[3].difference).toBe(2)
  expect(looks.map(({ hasPicture }: { hasPicture: boolean }) => hasPicture)).toEqual([true, true, true, true])
  // It is told who pays: the add-on itself, and in all as much as the page costs more.
  expect(looks[0].payers).toEqual([])
  const ofSharer = (variant: number) =>
    looks[variant].payers.find(({ payer }: { payer: string }) => payer === 'pass-it-on')
  expect(ofSharer(1)).toMatchObject({ name: 'Pass It On', requests: 7 })
  expect(ofSharer(1).transferBytes).toBeGreaterThan(20_000)
  expect(ofSharer(2).requests).toBeLessThan(0)
  expect(looks[3].payers.filter(({ requests }: { requests: number }) => requests !== 0)).toEqual([])
  expect(done.costs[1].requests - done.costs[0].requests).toBe(7)
  const picture = await fetch(
    `${await t.app.getUrl()}/api/weigh-ins/${begun.id}/pages/${pageIds[0]}/variants/2/picture`,
  )
  expect(picture.headers.get('content-type')).toBe('image/avif')

  expect(await traces()).toEqual(before)
  const { body: addOns } = await t.call('GET', `${site}/add-ons`)
  expect(addOns.map(({ slug }: { slug: string }) => slug)).not.toContain('plain-share')
  // Wherever one of them stands it is shown, and surveys know nothing of it.
  const { body: of } = await t.call('GET', '/weigh-ins/of/plain-share')
  expect(of).toEqual([expect.objectContaining({ id: begun.id, siteName: expect.any(String), status: 'done' })])
  expect((await t.call('GET', `${site}/ledger`)).body.sweep ?? null).toBeNull()
  expect((await t.call('DELETE', `/weigh-ins/${begun.id}`)).status).toBe(204)
  expect((await t.call('GET', `/sweeps/${begun.sweep.id}`)).status).toBe(404)
})

it('says what can’t be weighed, and where', async () => {
  const pageIds = [idOf('/about')]
  const asItIs = { name: 'As it is' }
  const cases: [object[], string, RegExp][] = [
    [[asItIs, { name: 'Same' }], 'variants/1', /same as As it is/],
    [[asItIs, { ...asItIs, without: ['pass-it-on'] }], 'variants/1/name', /Two variants/],
    [[asItIs, { name: 'x', without: ['no-such'] }], 'variants/1/without/0', /no add-on no-such/],
    [
      [asItIs, { name: 'x', versions: [{ addon: 'plain-share', version: '9' }] }],
      'variants/1/versions/0',
      /shelf has no/,
    ],
    [
      [asItIs, { name: 'x', settings: [{ addon: 'walk-almanac', setting: 'most-walks', value: 51 }] }],
      'variants/1/settings/0/value',
      /1 to 50/,
    ],
    [
      [asItIs, { name: 'x', featuresOff: [{ addon: 'pass-it-on', feature: 'no' }] }],
      'variants/1/featuresOff/0',
      /no feature/,
    ],
  ]
  for (const [variants, field, message] of cases) {
    const { status, body } = await weigh({ pageIds, variants })
    expect([status, body.errors?.[0]?.field]).toEqual([422, field])
    expect(body.title).toMatch(message)
  }
})

it('without a connector that keeps drafts an add-on’s going is weighed by the rewriter, and nothing else can be', async () => {
  const { connector, id } = (await SiteRow.findOne())!
  const measuring = { ...connector!.measuring!, drafts: false, addOns: false }
  await SiteRow.update({ connector: { ...connector!, measuring } }, { where: { id } })
  try {
    expect((await t.call('GET', `${site}/shelf`)).body).toEqual({ canTry: false, canCopy: false, addOns: [] })
    const pageIds = [idOf('/about')]
    const variants = [{ name: 'As it is' }, { name: 'Without', without: ['pass-it-on'] }]
    const { body: begun } = await weigh({ pageIds, variants })
    await read({ ...begun, pageIds })
    const { body: done } = await t.call('GET', `/weigh-ins/${begun.id}`)
    expect(done.sweep).toMatchObject({ status: 'done', readingsFailed: 0 })
    expect(done.pages[0].figures.requests[1].difference).toBeLessThanOrEqual(-2)
    const paid = { name: 'Paid', versions: [{ addon: 'pass-it-on', version: '3.0.4-plus' }] }
    expect((await weigh({ pageIds, variants: [variants[0], paid] })).body.title).toMatch('can’t try')
  } finally {
    await SiteRow.update({ connector: connector! }, { where: { id } })
  }
})

it('weighs on copies that nobody else can find, by the rules of the pages, and leaves none behind', async () => {
  // By the add-on's setting, so that it is a rule for the page that has to hold on its copy.
  const rows = [2, 10].map((value) => ({
    name: `${value} walks`,
    settings: [{ addon: 'walk-almanac', setting: 'most-walks', value }],
  }))
  const pageIds = [idOf('/plan-a-visit')]
  const { status, body: begun } = await weigh({ pageIds, variants: rows, onCopies: true })
  expect(status).toBe(201)
  // As if a worker had been killed: what it left is gone before another is made.
  const { path: left } = await makeCopy('/plan-a-visit')
  await SweepRow.sequelize!.query('update sweep_page set copy_path = :left where sweep_id = :id', {
    replacements: { left, id: begun.sweep.id },
  })
  await read({ ...begun, pageIds })

  const { body: done } = await t.call('GET', `/weigh-ins/${begun.id}`)
  expect(done).toMatchObject({
    status: 'done',
    onCopies: true,
    sweep: { failures: [], readings: 6, readingsFailed: 0 },
  })
  const [{ page, figures }] = done.pages
  expect(page.path).toBe('/plan-a-visit')
  expect(figures.elements[1].difference).toBeGreaterThan(0)
  const readings = await ReadingRow.findAll({ where: { sweepId: begun.sweep.id } })
  const asked = new Set(await Promise.all(readings.map(async (row) => new URL((await readDetail(row)).url).pathname)))
  expect([...asked]).toEqual([expect.stringMatching(/^\/scratch\//)])
  for (const path of [...asked, left]) expect((await askSite(t.standin.address, path)).status).toBe(404)
})

it('no copy is made of a page that only signed-in people see, nor on a site that makes none', async () => {
  const variants = [{ name: 'As it is' }, { name: 'Without', without: ['pass-it-on'] }]
  const id = idOf('/opening-hours')
  await PageRow.update({ signedIn: true }, { where: { id } })
  const refused = await weigh({ pageIds: [id], variants, onCopies: true })
  expect(refused).toMatchObject({ status: 422, body: { errors: [{ field: 'onCopies' }] } })
  expect(refused.body.title).toMatch('signed-in people only')
  const { connector, id: siteId } = (await SiteRow.findOne())!
  await SiteRow.update({ connector: { ...connector!, calls: [] } }, { where: { id: siteId } })
  try {
    expect((await weigh({ pageIds: [idOf('/about')], variants, onCopies: true })).body.title).toMatch('makes no copies')
  } finally {
    await SiteRow.update({ connector: connector! }, { where: { id: siteId } })
  }
})

const makeCopy = async (like: string) => {
  const headers = { authorization: `Bearer ${KEY}` }
  const { text } = await askSite(t.standin.address, '/unvelt/v1/scratch', {
    method: 'POST',
    headers,
    body: { like },
  })
  return JSON.parse(text) as { path: string }
}
