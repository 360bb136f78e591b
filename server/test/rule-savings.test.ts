import 'reflect-metadata'
import type { Sequelize } from 'sequelize'
import type { RuleSaving } from '@unvelt/contract'
import { connect } from '../src/database/connect.js'
import { RuleVersionRow } from '../src/rule/rule-version.model.js'
import { rulesIn } from '../src/rule/rule-savings.service.js'
import { SweepRow, type Variant } from '../src/sweep/sweep.model.js'
import { groupsOf, storeGroups } from '../src/toll/prediction-groups-store.js'
import { aReading, SOURCES as sources } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'

/** What each rule spares, by the newest sweep that was read without it. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let site: string
let siteId: number
let lensId: number
let pages: { id: number; path: string }[]
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  pages = (await t.call('GET', `${site}/pages`)).body
  lensId = (await t.call('GET', `${site}/lenses`)).body[0].id
})
afterAll(async () => {
  await db?.close()
  await t?.stop()
})

async function swept(at: string, rules: Variant['rules'], loads: Record<string, number>[]): Promise<number> {
  const { id } = await SweepRow.create({
    siteId,
    lensId,
    purpose: 'survey',
    status: 'done',
    repeats: 1,
    variants: [{ name: 'live', rules }],
    sources,
    startedAt: new Date(at),
    finishedAt: new Date(at),
  })
  for (const [n, each] of loads.entries()) {
    await storeGroups(db, { sweepId: id, pageId: pages[n]!.id }, groupsOf([aReading(each)], sources))
    for (const [payer, bytes] of Object.entries(each))
      await db.query(
        `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
         idle_bytes, main_thread_ms) values ($1, $2, 'live', $3, 1, $4, $4, 0, 0, 0, 0, 0)`,
        { bind: [id, pages[n]!.id, payer, bytes] },
      )
  }
  return id
}

const rule = (id: string, addon: string, more: object = {}) => ({
  id,
  addon,
  effect: 'leave-out' as const,
  place: { level: 'area' as const, area: 'public' as const },
  ...more,
})
const version = (number: number, at: string, rules: object[]) =>
  RuleVersionRow.create({ siteId, version: number, rules: rules as never, what: `v${number}`, putAt: new Date(at) })
const savings = async (...ids: string[]): Promise<RuleSaving[]> =>
  (await t.call('POST', `${site}/rules/savings`, { ids })).body

it('a live rule is judged by the last sweep without it, a draft by the one that is shown', async () => {
  const ids = ['00000000-0000-4000-8000-000000000001', '00000000-0000-4000-8000-000000000002', '00000000-0000-4000-8000-000000000003'] // prettier-ignore
  const live = [
    rule(ids[0]!, 'slider'),
    rule(ids[1]!, 'slider', { effect: 'keep', place: { level: 'page', path: pages[0]!.path } }),
    rule(ids[2]!, 'slider', { condition: { device: 'handset' } }),
  ]
  expect(await savings(ids[0]!)).toEqual([])
  const first = await swept('2026-10-01T10:00:00Z', 'live', [{ slider: 1_000, share: 200 }, { slider: 3_000 }])
  await version(1, '2026-10-02T10:00:00Z', live)
  await swept('2026-10-03T10:00:00Z', 'live', [{ share: 200 }, {}])
  const told = await savings(...ids, 'nobody')
  const [slider, kept, handset] = ids.map((id) => told.find((saving) => saving.id === id)!)
  expect(told).toHaveLength(3)
  expect(slider).toMatchObject({ because: null, sweepId: first, readAt: '2026-10-01T10:00:00.000Z', pages: 2 })
  expect([slider!.saved.requests, slider!.saved.transferBytes]).toEqual([1, 2_000])
  expect(kept!.because).toBe('keeps')
  expect(handset!.because).toBe('other-visits')

  // A sweep without any rules says it of today.
  const without = await swept('2026-10-04T10:00:00Z', 0, [{ slider: 500, share: 200 }, { slider: 700 }])
  const [now] = await savings(ids[0]!)
  expect([now!.sweepId, now!.saved.transferBytes]).toEqual([without, 600])

  const drafted = await t.call('POST', `${site}/drafts`, {
    rules: [{ addon: 'pass-it-on', effect: 'leave-out', place: { level: 'everywhere' } }],
  })
  const [draft] = await savings(drafted.body.rules[0].id)
  // Nothing of it was loaded by what was read, which is told as nothing spared and not as unknown.
  expect(draft).toMatchObject({ because: null, saved: { requests: 0, transferBytes: 0 } })
})

it('says why where no sweep was read without a rule, or none of its pages was', async () => {
  const id = '00000000-0000-4000-8000-00000000000a'
  await version(2, '2026-09-01T10:00:00Z', [])
  await SweepRow.destroy({ where: { siteId } })
  await RuleVersionRow.destroy({ where: { siteId } })
  await version(3, '2026-09-01T10:00:00Z', [rule(id, 'slider')])
  await swept('2026-10-03T10:00:00Z', 'live', [{ share: 200 }])
  expect(await savings(id)).toMatchObject([{ because: 'always-live', sweepId: null }])
  await swept('2026-10-04T10:00:00Z', 0, [])
  expect(await savings(id)).toMatchObject([{ because: 'not-read' }])
  expect((await t.call('POST', `${site}/rules/savings`, { ids: 'all' })).status).toBe(422)
})

it('what held while a sweep was read is the version put last before it, or the one that it asked for', () => {
  const at = (day: string) => new Date(`2026-10-${day}T00:00:00Z`)
  const versions = [
    { version: 2, rules: [rule('b', 'b')], putAt: at('05') },
    { version: 1, rules: [rule('a', 'a')], putAt: at('02') },
  ]
  const held = (rules: Variant['rules'], day: string) =>
    rulesIn({ variants: [{ name: 'live', rules }], startedAt: at(day) }, versions).map(({ id }) => id)
  expect(held('live', '01')).toEqual([])
  expect(held('live', '03')).toEqual(['a'])
  expect(held('live', '09')).toEqual(['b'])
  expect(held(1, '09')).toEqual(['a'])
  expect(held(0, '09')).toEqual([])
})
