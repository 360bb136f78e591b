import 'reflect-metadata'
import { Sequelize } from 'sequelize'
import type { Stale } from '@unvelt/contract'
import { AddOnRow, inventoryEntry } from '../src/add-on/add-on.model.js'
import { PageRow } from '../src/page/page.model.js'
import { storeReading, storeTolls } from '../src/reading/reading-store.js'
import { RuleVersionRow } from '../src/rule/rule-version.model.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { aReading, SOURCES as KIT } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'

const SOURCES = { ...KIT, prefixes: [...KIT.prefixes, { prefix: '/kit/pass-it-on/', addon: 'pass-it-on' }] }

/** What was changed after pages were read is told, and just these pages are read again. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let siteId: number
let lensId: number
let pages: PageRow[]
let db: Sequelize
beforeAll(async () => {
  t = await appForTest()
  db = t.app.get(Sequelize)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  ;[{ id: lensId }] = (await t.call('GET', `${site}/lenses`)).body
  pages = (await PageRow.findAll({ where: { siteId, signedIn: false, area: 'public' }, order: ['position'] })).slice(
    0,
    3,
  )
})
afterAll(() => t?.stop())

/** A survey of three pages, of which the first loads the share bar. */
async function aSurvey(): Promise<SweepRow> {
  await PageRow.update({ modified: null }, { where: { siteId } })
  const addOns = await AddOnRow.findAll({ where: { siteId, source: 'connector', gone: false } })
  const sweep = await SweepRow.create({
    siteId,
    lensId,
    purpose: 'survey',
    status: 'done',
    repeats: 2,
    variants: [{ name: 'live', rules: 'live' }],
    sources: SOURCES,
    inventory: addOns.map(inventoryEntry),
  })
  for (const [at, { id: pageId }] of pages.entries()) {
    const place = { sweepId: sweep.id, pageId, variant: 'live' as const }
    await db.query(`insert into sweep_page (sweep_id, page_id, state) values ($1, $2, 'done')`, {
      bind: [sweep.id, pageId],
    })
    for (const repeat of [1, 2])
      await storeReading({ ...place, repeat }, aReading(at === 0 ? { 'pass-it-on': 400 } : { slider: 300 }), SOURCES, {
        timed: repeat === 2,
        weighed: true,
      })
    expect(await storeTolls(db, siteId, place, SOURCES)).toBe(true)
  }
  return sweep
}
const stale = async (id: number): Promise<Stale> => (await t.call('GET', `/sweeps/${id}/stale`)).body

it('tells what happened, to which pages, when and by whom as far as anybody knows', async () => {
  const sweep = await aSurvey()
  expect(await stale(sweep.id)).toEqual({ sweepId: sweep.id, pagesRead: 3, causes: [], pages: [], whyNotAgain: null })

  const place = { level: 'page', path: pages[1]!.path } as const
  const rule = { id: 'r', addon: 'canopy-slider', effect: 'skip', place, author: 'Wren Alder' } as const
  await RuleVersionRow.create({ siteId, version: 1, rules: [rule], what: 'Canopy Slider not run on one page' })
  await AddOnRow.update({ version: '99' }, { where: { siteId, slug: 'pass-it-on' } })
  const day = new Date(Date.now() + 2 * 86_400_000).toISOString().slice(0, 10)
  await PageRow.update({ modified: day }, { where: { id: pages[2]!.id } })
  const told = await stale(sweep.id)
  expect(told.causes).toMatchObject([
    { kind: 'rules', name: 'Canopy Slider not run on one page', version: 1, by: ['Wren Alder'], pages: 1 },
    { kind: 'updated', slug: 'pass-it-on', to: '99', at: null, pages: 1 },
    { kind: 'words', pages: 1 },
  ])
  expect(told.pages.map(({ path }) => path)).toEqual(
    [pages[1]!.path, pages[0]!.path, pages[2]!.path].sort((a, b) => order(a) - order(b)),
  )
  expect(Date.parse(told.causes[0]!.at!)).toBeGreaterThan(0)

  // A survey that set the rules aside is not about them.
  await sweep.update({ variants: [{ name: 'live', rules: 0 }] })
  const aside = await stale(sweep.id)
  expect(aside.causes.map(({ kind }) => kind)).toEqual(['updated', 'words'])
  expect(aside.whyNotAgain).toMatch(/live site/)
  await RuleVersionRow.destroy({ where: { siteId } })
})
const order = (path: string) => pages.findIndex((page) => page.path === path)

it('reads just what is stale again, in a sweep that has the others as they were read', async () => {
  const sweep = await aSurvey()
  expect((await t.call('POST', `/sweeps/${sweep.id}/stale/read-again`, {})).status).toBe(409)
  await AddOnRow.update({ version: '100' }, { where: { siteId, slug: 'pass-it-on' } })
  const other = await t.call('POST', `/sweeps/${sweep.id}/stale/read-again`, { pageIds: [pages[1]!.id] })
  expect([other.status, other.body.title]).toEqual([409, expect.stringMatching(/Nothing was changed/)])

  const begun = await t.call('POST', `/sweeps/${sweep.id}/stale/read-again`, {})
  expect([begun.status, begun.body.title]).toEqual([201, undefined])
  expect(begun.body).toMatchObject({
    status: 'running',
    pages: 3,
    pagesDone: 2,
    readings: 4,
    readingsPlanned: 6,
    sample: null,
    takenOver: { sweepId: sweep.id, pages: 2 },
  })
  const rows = async (table: string, id: number) => {
    const [found] = await db.query(
      `select to_jsonb(${table}) - 'sweep_id' - 'id' row from ${table} where sweep_id = $1 and page_id = any($2)
       order by to_jsonb(${table}) - 'sweep_id' - 'id'`,
      { bind: [id, [pages[1]!.id, pages[2]!.id]] },
    )
    return found
  }
  for (const table of ['reading', 'toll', 'file_toll', 'file_use', 'prediction_groups']) {
    const before = await rows(table, sweep.id)
    expect([table, await rows(table, begun.body.id)]).toEqual([table, before])
    if (table !== 'file_use') expect([table, before.length > 0]).toEqual([table, true])
  }
  // The page that is to be read has nothing yet, and is the only one that waits.
  const [waiting] = await db.query(`select page_id from sweep_page where sweep_id = $1 and state = 'waiting'`, {
    bind: [begun.body.id],
  })
  expect(waiting).toEqual([{ page_id: pages[0]!.id }])
  const [jobs] = await db.query(`select data from pgboss.job where name = 'read-page' and data ->> 'sweepId' = $1`, {
    bind: [String(begun.body.id)],
  })
  expect(jobs).toEqual([{ data: { sweepId: begun.body.id, pageId: pages[0]!.id } }])
  // One that is under way can't be the basis of another.
  expect((await t.call('POST', `/sweeps/${begun.body.id}/stale/read-again`, {})).status).toBe(409)
  await t.call('POST', `/sweeps/${begun.body.id}/cancel`)
  // The basis may go; what was taken over stays.
  expect((await t.call('DELETE', `/sweeps/${sweep.id}`)).status).toBe(200)
  expect((await t.call('GET', `/sweeps/${begun.body.id}`)).body).toMatchObject({ readings: 4, takenOver: null })
})

it('of a site without connector nothing is known to have changed, and nothing is to be read again', async () => {
  const [plain] = await db.query(
    `insert into site (address, name, cms, connector, own_hosts) values ('http://plain.test', 'Plain', '{}', null, '{}') returning id`,
  )
  const { id } = (plain as { id: number }[])[0]!
  const [lens] = await db.query(`insert into lens (site_id, name, settings) values ($1, 'Desk', '{}') returning id`, {
    bind: [id],
  })
  const sweep = await SweepRow.create({
    siteId: id,
    lensId: (lens as { id: number }[])[0]!.id,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: SOURCES,
  })
  expect(await stale(sweep.id)).toMatchObject({ causes: [], pages: [], pagesRead: 0 })
  const again = await t.call('POST', `/sweeps/${sweep.id}/stale/read-again`, {})
  expect([again.status, again.body.title]).toEqual([409, 'Nothing was changed since these pages were read.'])
})
