import 'reflect-metadata'
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import fc from 'fast-check'
import { QueryTypes, Sequelize } from 'sequelize'
import type { Reading } from '@unvelt/core'
import { packRepeats } from '../src/reading/pack-repeats.js'
import { packReadings, unpackReadings } from '../src/reading/reading-pack.js'
import { ReadingRow } from '../src/reading/reading.model.js'
import { readDetail, readingsOf, storeReading, storeTolls } from '../src/reading/reading-store.js'
import { aReading, SOURCES } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'

const json = (value: unknown) => JSON.parse(JSON.stringify(value)) as Reading

it('readings come out of a pack as they went in, whichever repeats they are', async () => {
  const one = fc.record({ url: fc.string(), requests: fc.array(fc.record({ id: fc.string(), endedMs: fc.nat() })) })
  const readings = fc.uniqueArray(fc.tuple(fc.nat(30), one), {
    selector: ([repeat]) => repeat,
    minLength: 1,
    maxLength: 5,
  })
  await fc.assert(
    fc.asyncProperty(readings, async (all) => {
      const packed = await packReadings(new Map(all.map(([repeat, reading]) => [repeat, JSON.stringify(reading)])))
      const out = await unpackReadings(packed, 99)
      expect([...out].sort(([a], [b]) => a - b)).toEqual([...all].sort(([a], [b]) => a - b))
    }),
    { numRuns: 40, interruptAfterTimeLimit: 20_000, markInterruptAsFailure: true },
  )
})

it.each([1, 3])('a text of any length comes out of a pack as it went in, with %i repeats', async (repeats) => {
  for (let length = 0; length < 300; length++) {
    const all = Array.from({ length: repeats }, (_, repeat) => [repeat, { url: 'a'.repeat(length) }] as const)
    const packed = await packReadings(new Map(all.map(([repeat, reading]) => [repeat, JSON.stringify(reading)])))
    expect([...(await unpackReadings(packed, 99))]).toEqual(all)
  }
})

it('what an earlier version has packed is still read', async () => {
  const packed = await promisify(gzip)('{"url":"http://a.test/"}')
  expect(await unpackReadings(packed, 3)).toEqual(new Map([[3, { url: 'http://a.test/' }]]))
})

describe('the repeats of a page', () => {
  let t: Awaited<ReturnType<typeof appForTest>>
  let db: Sequelize
  let siteId: number
  let place: { sweepId: number; pageId: number; variant: string }
  beforeAll(async () => {
    t = await appForTest()
    db = t.app.get(Sequelize)
    siteId = (await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })).body.id
    const [page] = (await t.call('GET', `/sites/${siteId}/pages`)).body
    const { body: sweep } = await t.call('POST', `/sites/${siteId}/sweeps`, { pageIds: [page.id] })
    place = { sweepId: (Array.isArray(sweep) ? sweep[0] : sweep).id, pageId: page.id, variant: 'live' }
  })
  afterAll(() => t?.stop())

  const held = () =>
    db.query<{ repeat: number; bytes: number | null; in: number | null }>(
      `select repeat, length(detail) bytes, detail_in "in" from reading order by repeat`,
      { type: QueryTypes.SELECT },
    )
  const readingAt = (repeat: number) => aReading({ slider: 900 + repeat, guestbook: 400 })

  it('are held by the first of them, in hardly more bytes than it takes alone, and each is read as it was', async () => {
    await storeReading({ ...place, repeat: 1 }, readingAt(1), SOURCES)
    await storeTolls(db, siteId, place, SOURCES)
    const [{ bytes: alone }] = (await held()) as [{ bytes: number }]
    for (const repeat of [2, 3]) {
      await storeReading({ ...place, repeat }, readingAt(repeat), SOURCES)
      await storeTolls(db, siteId, place, SOURCES)
    }
    // A worker that was slower comes in last.
    await storeReading({ ...place, repeat: 0 }, readingAt(0), SOURCES)
    await storeTolls(db, siteId, place, SOURCES)
    const rows = await held()
    expect(rows.map(({ repeat, in: where }) => [repeat, where])).toEqual([
      [0, null],
      [1, 0],
      [2, 0],
      [3, 0],
    ])
    expect(rows.slice(1).every(({ bytes }) => bytes === null)).toBe(true)
    expect(rows[0]!.bytes).toBeLessThan(2 * alone)
    const whole = await readingsOf(place.sweepId, place.pageId, 'live')
    expect(whole.map(({ requests }) => requests)).toEqual([0, 1, 2, 3].map((n) => json(readingAt(n)).requests))
    for (const row of await ReadingRow.findAll({ order: ['repeat'] }))
      expect((await readDetail(row)).requests).toEqual(json(readingAt(row.repeat)).requests)
  })

  it('are packed once, by however many at the same time', async () => {
    for (const repeat of [4, 5, 6, 7]) await storeReading({ ...place, repeat }, readingAt(repeat), SOURCES)
    await Promise.all(Array.from({ length: 4 }, () => packRepeats(db, place)))
    expect((await held()).filter(({ bytes }) => bytes !== null)).toHaveLength(1)
    expect(await readingsOf(place.sweepId, place.pageId, 'live')).toHaveLength(8)
  })
})
