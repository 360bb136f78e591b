import 'reflect-metadata'
import type { Sequelize } from 'sequelize'
import { connect } from '../src/database/connect.js'
import { LensRow } from '../src/lens/lens.model.js'
import { forgetOldPictures, keepPicture, keptPictures } from '../src/rehearsal/picture-store.js'
import { RehearsalPageRow, RehearsalRow } from '../src/rehearsal/rehearsal.model.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
})
afterAll(async () => {
  await db?.close()
  await t?.stop()
})

it('the newest twelve rehearsals of a site keep their pictures; older ones keep what guards found', async () => {
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  const [page] = (await t.call('GET', `/sites/${body.id}/pages`)).body
  const lens = (await LensRow.findOne({ where: { siteId: body.id } }))!
  const places = []
  for (let n = 0; n < 14; n++) {
    const row = await RehearsalRow.create({
      siteId: body.id,
      what: `rehearsal ${n}`,
      mode: 'guards',
      state: 'done',
      liveVersion: 0,
      liveRules: [],
      drafts: [],
      versions: {},
      prediction: {},
      mechanism: 'site',
    })
    const place = { rehearsalId: row.id, pageId: page.id, lensId: lens.id }
    await RehearsalPageRow.create({ ...place, position: 0 })
    await keepPicture(db, place, 1, { jpeg: Buffer.from('picture'), width: 4, height: 3 })
    places.push(place)
  }
  await forgetOldPictures(db, body.id)
  const kept = await Promise.all(places.map(async (place) => (await keptPictures(db, place)).size))
  expect(kept).toEqual([0, 0, ...Array.from({ length: 12 }, () => 1)])
  expect(await RehearsalPageRow.count()).toBe(14)
  // Another site's are none of its business.
  await forgetOldPictures(db, body.id + 1)
  expect((await keptPictures(db, places[2]!)).size).toBe(1)
})
