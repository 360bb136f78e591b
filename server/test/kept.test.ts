import { QueryTypes, Sequelize } from 'sequelize'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { keptView } from '../src/kept/kept-view.js'
import { Once } from '../src/kept/once.js'
import { NO_SOURCES } from '@unvelt/core'
import { reading, record } from '../../core/test/reading-arbitrary.js'
import { storeFailure, storeReading, storeTolls } from '../src/reading/reading-store.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { appForTest } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let plain: PlainSite
let sweep: SweepRow
let pageId: number
beforeAll(async () => {
  t = await appForTest()
  plain = await plainSite()
  const { body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true, local: true })
  pageId = (await t.call('GET', `/sites/${body.id}/pages`)).body[0].id
  const begun = await t.call('POST', `/sites/${body.id}/sweeps`, { repeats: 3 })
  sweep = (await SweepRow.findByPk(begun.body.id))!
})
afterAll(async () => {
  await t?.stop()
  await plain?.stop()
})

it('what is under way is made once, and again once it is over, however it ended', async () => {
  const once = new Once()
  let made = 0
  const make = async () => {
    await new Promise((resolve) => setTimeout(resolve, 20))
    if (++made === 2) throw new Error('no')
    return made
  }
  const all = () => Promise.allSettled(Array.from({ length: 50 }, () => once.run('key', make)))
  expect(new Set((await all()).map((each) => JSON.stringify(each)))).toEqual(
    new Set(['{"status":"fulfilled","value":1}']),
  )
  expect((await all()).every(({ status }) => status === 'rejected')).toBe(true)
  expect((await all()).every((each) => each.status === 'fulfilled' && each.value === 3)).toBe(true)
})

it('a view of a sweep is kept until its readings, their charging or what else it depends on change', async () => {
  const sequelize = t.app.get(Sequelize)
  await sweep.update({ status: 'done' })
  let made = 0
  const view = (also = '') => keptView(sequelize, sweep, 'test', async () => ({ made: ++made }), also)
  expect(await Promise.all([view(), view(), view()])).toEqual([{ made: 1 }, { made: 1 }, { made: 1 }])
  expect(await view()).toEqual({ made: 1 })
  await storeFailure({ sweepId: sweep.id, pageId, variant: 'live', repeat: 1 }, 'no')
  expect(await view()).toEqual({ made: 2 })
  await sequelize.query(`update sweep set sources = sources || '{"patterns": [{"pattern": "/x", "addon": "y"}]}'`)
  expect(await view()).toEqual({ made: 3 })
  expect(await view('other pages')).toEqual({ made: 4 })
  expect(await view('other pages')).toEqual({ made: 4 })
  // While a sweep goes on, it need not be made anew with every reading.
  await sweep.update({ status: 'running' })
  await storeFailure({ sweepId: sweep.id, pageId, variant: 'live', repeat: 2 }, 'no')
  expect(await view('other pages')).toEqual({ made: 4 })
})

it('fifty who ask at once are all answered, by what was worked out once', async () => {
  const place = { sweepId: sweep.id, pageId, variant: 'live' }
  const read = reading([
    record('page', { url: `${plain.address}/`, type: 'document' }),
    record('script', { url: 'http://far.test/x.js' }),
  ])
  for (const repeat of [3, 4, 5]) await storeReading({ ...place, repeat }, read, NO_SOURCES)
  await storeTolls(t.app.get(Sequelize), sweep.siteId, { ...place, repeat: 1 }, NO_SOURCES)
  await sweep.update({ status: 'done' })
  const { options } = t.app.get(Sequelize)
  const paths = [
    `/sites/${sweep.siteId}/standing?sweep=${sweep.id}`,
    `/sites/${sweep.siteId}/outside?sweep=${sweep.id}`,
  ]
  /** How often readings are fetched, detail and all, while so many ask for both views at once. */
  const fetchedFor = async (readers: number) => {
    let fetched = 0
    options.logging = (sql) => void (/"detail"/.test(sql) && /FROM "reading"/.test(sql) && fetched++)
    const answers = await Promise.all(
      paths.flatMap((path) => Array.from({ length: readers }, () => t.call('GET', path).then(({ status }) => status))),
    )
    options.logging = false
    expect(new Set(answers)).toEqual(new Set([200]))
    return fetched
  }
  const byFifty = await fetchedFor(50)
  expect(byFifty).toBeGreaterThan(0)
  // What was kept does not count any more once there is another reading.
  await storeReading({ ...place, repeat: 6 }, read, NO_SOURCES)
  expect(await fetchedFor(1)).toBe(byFifty)
  const kept = await t.app
    .get(Sequelize)
    .query<{ view: string }>('select view from kept_view order by view', { type: QueryTypes.SELECT })
  expect(kept.map(({ view }) => view)).toEqual(['noise', 'outside', 'past', 'test', 'wait'])
})
