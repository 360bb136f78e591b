import 'reflect-metadata'
import type { RuleFinding } from '@unvelt/contract'
import { storeReading } from '../src/reading/reading-store.js'
import { offArrives, switchedOff } from '../src/rule/still-arriving.js'
import { SweepRow, type InventoryEntry } from '../src/sweep/sweep.model.js'
import { Sequelize } from 'sequelize'
import { aReading, SOURCES } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'

/** What is off and arrives all the same, and who brings it in. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let siteId: number
let pages: { id: number; path: string }[]
beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  pages = (await t.call('GET', `${site}/pages`)).body
})
afterAll(() => t?.stop())

const entry = (slug: string, active: boolean): InventoryEntry => ({
  slug,
  name: slug,
  kind: 'plugin',
  version: '1',
  active,
  featuresOn: 0,
})
const findings = async (): Promise<RuleFinding[]> => (await t.call('GET', `${site}/rules/findings`)).body

it('what the site has switched off and pages still load is found without any rule, with who asks for it', async () => {
  const [{ id: lensId }] = (await t.call('GET', `${site}/lenses`)).body
  expect(await findings()).toEqual([])
  const { id: sweepId } = await SweepRow.create({
    siteId,
    lensId,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules: 'live' }],
    sources: SOURCES,
    inventory: [entry('guestbook', false), entry('canopy-slider', true)],
  })
  for (const { id: pageId } of pages.slice(0, 2)) {
    const place = { sweepId, pageId, variant: 'live' as const, repeat: 0 }
    await storeReading(place, { ...aReading({ guestbook: 400 }), timings: { load: 1 } } as never, SOURCES)
    await t.app.get(Sequelize).query(
      `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
       idle_bytes, main_thread_ms) values ($1, $2, 'live', 'guestbook', 1, 400, 400, 0, 0, 0, 0, 0)`,
      { bind: [sweepId, pageId] },
    )
  }
  const [found, ...others] = await findings()
  expect(others).toEqual([])
  expect(found).toMatchObject({
    kind: 'off-arrives',
    rules: [],
    about: 'Guestbook',
    pageCount: 2,
    wayOut: { do: 'check', addon: 'guestbook' },
    broughtIn: [{ by: null, how: 'tag', url: 'http://site.test/kit/guestbook/a.js' }],
  })
  // Worked out once: the reading is not asked again.
  await t.app.get(Sequelize).query('update reading set detail = null where sweep_id = $1', { bind: [sweepId] })
  expect((await findings())[0]!.broughtIn).toHaveLength(1)
})

it('only what was off when it was read, is so now, and is the site’s to switch counts', () => {
  const addOn = (slug: string, more: object = {}) => ({ slug, name: slug, active: false, gone: false, source: 'connector' as const, ...more }) // prettier-ignore
  const arrived = new Map([['/', new Set(['a', 'b', 'c', 'd', 'e'])]])
  const inventory = [entry('a', false), entry('b', true), entry('c', false), entry('d', false), entry('f', false)]
  const addOns = [addOn('a'), addOn('b'), addOn('c', { active: true }), addOn('d', { gone: true }), addOn('f'), addOn('e', { source: 'hand' })] // prettier-ignore
  const off = switchedOff({ inventory }, addOns)
  expect(off.map(({ slug }) => slug)).toEqual(['a', 'f'])
  expect(offArrives(off, arrived).map(({ about }) => about)).toEqual(['a'])
})
