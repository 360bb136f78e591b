import 'reflect-metadata'
import { Sequelize } from 'sequelize'
import type { Storage } from '@unvelt/contract'
import { storeReading, storeTolls } from '../src/reading/reading-store.js'
import { SiteRow } from '../src/site/site.model.js'
import { thinOld } from '../src/storage/thin-old.js'
import { toThin } from '../src/storage/to-thin.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { runRecomputeJob } from '../src/worker/recompute-job.js'
import { aReading, SOURCES } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold } from './worker-tools.js'

/** Of older sweeps only what they came to is kept, as the maintainer says. */
describe('what goes', () => {
  const sweep = (id: number, more: object = {}) => ({
    ...{ id, lensId: 1, purpose: 'survey', status: 'done', startedAt: new Date(id * 86_400_000), thinnedAt: null },
    ...more,
  })
  const going = (sweeps: object[], keepFull: number | null, shown: number | null = null) =>
    toThin(sweeps as never[], keepFull, shown)
      .map(({ id }: { id: number }) => id)
      .sort()

  it('is what lies behind the newest of each lens, and nothing where nobody wished it', () => {
    const sweeps = [1, 2, 3, 4].map((id) => sweep(id)).concat([sweep(5, { lensId: 2 }), sweep(6, { lensId: 2 })])
    expect(going(sweeps, null)).toEqual([])
    expect(going(sweeps, 10)).toEqual([])
    expect(going(sweeps, 2)).toEqual([1, 2])
    expect(going(sweeps, 1)).toEqual([1, 2, 3, 5])
  })

  it('is never what is shown, is not over, or has gone', () => {
    const sweeps = [sweep(1), sweep(2, { status: 'paused' }), sweep(3, { thinnedAt: new Date() }), sweep(4), sweep(5)]
    expect(going(sweeps, 1, 4)).toEqual([1])
    expect(going([sweep(1, { status: 'running' })], 1)).toEqual([])
  })

  it('is what was compared before the oldest that stays, but no weigh-in', () => {
    const compared = (id: number, purpose: string) => sweep(id, { purpose })
    const sweeps = [
      compared(1, 'proof'),
      sweep(2),
      compared(3, 'weigh-in'),
      compared(4, 'shares'),
      sweep(5),
      compared(6, 'proof'),
    ]
    expect(going(sweeps, 1)).toEqual([1, 2, 4])
    expect(going(sweeps, 2)).toEqual([1])
    // Without any survey nothing says how old is old.
    expect(going([compared(1, 'proof')], 1)).toEqual([])
  })
})

describe('a site', () => {
  let t: Awaited<ReturnType<typeof appForTest>>
  let db: Sequelize
  let site: string
  let siteId: number
  let pageId: number
  let lensId: number
  beforeAll(async () => {
    t = await appForTest()
    db = t.app.get(Sequelize)
    const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
    siteId = body.id
    site = `/sites/${siteId}`
    ;[{ id: pageId }] = (await t.call('GET', `${site}/pages`)).body
    ;[{ id: lensId }] = (await t.call('GET', `${site}/lenses`)).body
  })
  afterAll(() => t?.stop())

  async function swept(day: number): Promise<number> {
    const sweep = await SweepRow.create({
      siteId,
      lensId,
      purpose: 'survey',
      status: 'done',
      repeats: 1,
      variants: [{ name: 'live', rules: 'live' }],
      sources: SOURCES,
      startedAt: new Date(Date.UTC(2026, 10, day)),
    })
    const place = { sweepId: sweep.id, pageId, variant: 'live' as const }
    await db.query(`insert into sweep_page (sweep_id, page_id, state) values ($1, $2, 'done')`, {
      bind: [sweep.id, pageId],
    })
    await storeReading({ ...place, repeat: 1 }, aReading({ slider: 900 * day }), SOURCES)
    await storeTolls(db, siteId, place, SOURCES)
    return sweep.id
  }
  const ledger = async (id: number) => (await t.call('GET', `${site}/ledger/details?payer=slider&sweep=${id}`)).body
  const standing = async () => (await t.call('GET', `${site}/standing`)).body
  const tolls = async (id: number) => (await db.query('select * from toll where sweep_id = $1', { bind: [id] }))[0]
  const rows = async (id: number) => {
    const [[row]] = await db.query(
      `select (select count(*)::int from reading where sweep_id = $1 and detail is not null) details,
       (select count(*)::int from prediction_groups where sweep_id = $1) groups`,
      { bind: [id] },
    )
    return row
  }

  it('says what would go before it does, and keeps all tolls', async () => {
    const [first, second, third] = [await swept(1), await swept(2), await swept(3)]
    const past = (await standing()).past
    expect(past).toHaveLength(3)
    const kept = [await tolls(first), await ledger(first), (await t.call('GET', `${site}/outside?sweep=${first}`)).body]
    expect((await t.call('GET', `${site}/storage/would-go`)).body).toEqual({ sweeps: [], bytes: 0 })
    const would = (await t.call('GET', `${site}/storage/would-go?keepFull=1`)).body
    expect(would).toEqual({ sweeps: [first, second], bytes: expect.any(Number) })
    expect(would.bytes).toBeGreaterThan(300)
    for (const keepFull of [0, 1.5, 'all']) {
      expect((await t.call('PUT', `${site}/storage/keep-full`, { keepFull })).status).toBe(422)
    }
    const before: Storage = (await t.call('GET', `${site}/storage`)).body
    const after: Storage = (await t.call('PUT', `${site}/storage/keep-full`, { keepFull: 1 })).body
    expect(after.keepFull).toBe(1)
    expect(after.sweeps.map(({ id, inFull }) => [id, inFull])).toEqual([
      [third, true],
      [second, false],
      [first, false],
    ])
    // What is freed is what was said, but for what a row takes besides.
    expect(Math.abs(before.bytes - after.bytes - would.bytes)).toBeLessThan(would.bytes / 4 + 400)
    expect(await rows(first)).toEqual({ details: 0, groups: 0 })
    expect(await rows(third)).toEqual({ details: 1, groups: 1 })
    expect([
      await tolls(first),
      await ledger(first),
      (await t.call('GET', `${site}/outside?sweep=${first}`)).body,
    ]).toEqual(kept)
    expect((await standing()).past).toEqual(past)
  })

  it('what asks for its readings says that they are not kept, and nothing works them out anew', async () => {
    const [, , { id }] = (await t.call('GET', `${site}/storage`)).body.sweeps
    for (const path of [`${site}/pages/${pageId}?sweep=${id}`, `/sweeps/${id}/har`]) {
      const { status, body } = await t.call('GET', path)
      expect([path, status]).toEqual([path, 410])
      expect(body.title).toMatch(/only its tolls are kept/)
    }
    expect((await t.call('GET', `/sweeps/${id}/stale`)).body.whyNotAgain).toMatch(/only its tolls/)
    const before = await tolls(id)
    expect(before.length).toBeGreaterThan(0)
    await runRecomputeJob(
      { sequelize: db, turns: { beside: (run: () => unknown) => run() } } as never,
      { sweepId: id },
      aHold,
    )
    expect(await tolls(id)).toEqual(before)
  })

  it('goes by itself at the end of each sweep, and stays once nothing is to go', async () => {
    const fourth = await swept(4)
    const row = (await SiteRow.findByPk(siteId))!
    expect(await thinOld(db, row, fourth)).toBe(1)
    expect(await thinOld(db, row, fourth)).toBe(0)
    const free: Storage = (await t.call('PUT', `${site}/storage/keep-full`, { keepFull: null })).body
    expect([free.keepFull, free.sweeps.filter(({ inFull }) => inFull).length]).toEqual([null, 1])
    await swept(5)
    expect(await thinOld(db, (await SiteRow.findByPk(siteId))!, null)).toBe(0)
  })
})
