import 'reflect-metadata'
import { Sequelize } from 'sequelize'
import { KnownFacts } from '../src/use/known-facts.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let siteId: number
let pageIds: number[]
beforeAll(async () => {
  t = await appForTest()
  db = t.app.get(Sequelize)
  siteId = (await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })).body.id
  pageIds = (await t.call('GET', `/sites/${siteId}/pages`)).body.map(({ id }: { id: number }) => id)
})
afterAll(() => t?.stop())

const say = (slug: string, word: string, pageId: number | null) =>
  db.query(
    `insert into use_fact (site_id, page_id, slug, source, word, because) values ($1, $2, $3, 'hand', $4, 'said by hand')`,
    { bind: [siteId, pageId, slug, word] },
  )
const unsay = (slug: string) => db.query(`delete from use_fact where source = 'hand' and slug = $1`, { bind: [slug] })

it('facts of use are read once for as long as none is added or taken away', async () => {
  const facts = new KnownFacts(db)
  const words = async (slug: string) => (await facts.of(siteId, null)).of(slug, pageIds[0]!)?.map(({ word }) => word)
  await say('lamp', 'used', pageIds[0]!)
  expect(await words('lamp')).toEqual(['used'])
  expect(await facts.of(siteId, null)).toBe(await facts.of(siteId, null))

  await unsay('lamp')
  expect(await words('lamp')).toBeUndefined()

  // One goes while another comes.
  await say('lamp', 'used', pageIds[0]!)
  await words('lamp')
  await db.transaction(async (transaction) => {
    await db.query(`delete from use_fact where source = 'hand' and slug = 'lamp'`, { transaction })
    await db.query(
      `insert into use_fact (site_id, page_id, slug, source, word, because) values ($1, $2, 'lamp', 'hand', 'not seen', 'said by hand')`,
      { bind: [siteId, pageIds[0]], transaction },
    )
  })
  expect(await words('lamp')).toEqual(['not seen'])

  await say('lantern', 'planned', null)
  expect((await facts.of(siteId, null)).ofAllPages('lantern')).toMatchObject([{ word: 'planned' }])
})

it('what another sweep has seen is none of them', async () => {
  const { body } = await t.call('POST', `/sites/${siteId}/sweeps`, { pageIds: pageIds.slice(0, 1) })
  const sweepId = (Array.isArray(body) ? body[0] : body).id as number
  await db.query(
    `insert into use_fact (site_id, page_id, slug, source, word, because, sweep_id) values ($1, $2, 'torch', 'reading', 'used', 'seen', $3)`,
    { bind: [siteId, pageIds[0], sweepId] },
  )
  const facts = new KnownFacts(db)
  expect((await facts.of(siteId, null)).of('torch', pageIds[0]!)).toBeUndefined()
  expect((await facts.of(siteId, sweepId)).of('torch', pageIds[0]!)).toMatchObject([{ word: 'used' }])
  expect((await facts.of(siteId, sweepId)).seenOn.get('torch')).toEqual(new Set([pageIds[0]]))
})
