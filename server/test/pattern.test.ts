import 'reflect-metadata'
import { NO_SOURCES, type Reading } from '@unvelt/core'
import { reading, record } from '../../core/test/reading-arbitrary.js'
import { connect } from '../src/database/connect.js'
import { filesOverSite } from '../src/idle/file-use-store.js'
import { runRecomputeJob } from '../src/worker/recompute-job.js'
import { storeReading, storeTolls } from '../src/reading/reading-store.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { ledgerCells } from './ledger-cells.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let site: number
let pages: { id: number }[]
beforeAll(async () => {
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = body.id
  pages = (await t.call('GET', `/sites/${site}/pages`)).body
})
afterAll(async () => {
  await db?.close()
  await t?.stop()
})

/** A sweep whose readings are known to the byte, as if it had been made long ago. */
async function pastSweep(readings: Reading[]): Promise<number> {
  const { body: sweep } = await t.call('POST', `/sites/${site}/sweeps`, { repeats: 1 })
  await SweepRow.update(
    { status: 'done', sources: { ...NO_SOURCES, ownHosts: ['site.test'] } },
    { where: { id: sweep.id } },
  )
  for (const [n, each] of readings.entries()) {
    const place = { sweepId: sweep.id, pageId: pages[n]!.id, variant: 'live' }
    await storeReading({ ...place, repeat: 1 }, each, NO_SOURCES)
    await storeTolls(db, site, place, { ...NO_SOURCES, ownHosts: ['site.test'] })
  }
  return sweep.id
}
const document = record('page', { url: 'https://site.test/', type: 'document' })
const payersOf = async (sweep: number) => {
  const { body: ledger } = await t.call('GET', `/sites/${site}/ledger?sweep=${sweep}`)
  const { row } = await ledgerCells(t, `/sites/${site}`, ledger)
  const sums: Record<string, number> = {}
  for (const { slug } of ledger.payers) {
    const tolls = row(slug, 'transferBytes')
    if (tolls.length > 0) sums[slug] = tolls.reduce((a, b) => a + b, 0)
  }
  return sums
}

it('charges files by the maintainer’s word, in past sweeps too, and takes it back', async () => {
  const strange = record('s', { url: 'https://site.test/odd/strange.js', transferBytes: 4321 })
  const sweep = await pastSweep([reading([document, strange])])
  expect(await payersOf(sweep)).toMatchObject({ unassigned: 4321 })
  const pattern = '/odd/*'
  const { body } = await t.call('POST', `/sites/${site}/patterns`, { pattern, addon: 'odd-thing', name: 'Odd thing' })
  expect(body).toMatchObject({ patterns: [{ pattern, addonName: 'Odd thing' }], recomputing: true })
  await runRecomputeJob(workerTools(db), { sweepId: sweep }, aHold)
  expect(await payersOf(sweep)).toMatchObject({ 'odd-thing': 4321 })
  expect((await t.call('GET', `/sites/${site}/patterns`)).body.recomputing).toBe(false)
  expect((await t.call('GET', `/sites/${site}/add-ons`)).body).toContainEqual(
    expect.objectContaining({ slug: 'odd-thing', source: 'hand', kind: 'snippet' }),
  )
  await t.call('DELETE', `/sites/${site}/patterns/${body.patterns[0].id}`)
  await runRecomputeJob(workerTools(db), { sweepId: sweep }, aHold)
  expect(await payersOf(sweep)).toMatchObject({ unassigned: 4321 })
})

it.each([
  ['a pattern that fits everything', { pattern: '/*', addon: 'x', name: 'X' }, 'pattern'],
  ['no pattern', { pattern: 'strange.js', addon: 'x', name: 'X' }, 'pattern'],
  ['an add-on that nobody knows', { pattern: '/odd/*', addon: 'nobody' }, 'addon'],
  ['a slug that is none', { pattern: '/odd/*', addon: 'No Slug', name: 'X' }, 'addon'],
])('refuses %s, and keeps nothing', async (_, input, field) => {
  const before = (await t.call('GET', `/sites/${site}/patterns`)).body
  const answer = await t.call('POST', `/sites/${site}/patterns`, input)
  expect(answer).toMatchObject({ status: 422, body: { errors: [{ field }] } })
  expect((await t.call('GET', `/sites/${site}/patterns`)).body).toEqual(before)
})

it('unites what pages use of a file: idle everywhere, and needed later', async () => {
  const file = record('f', { url: 'https://site.test/f.js', decodedBytes: 100 })
  const page = (used: [number, number][], later: [number, number][]) =>
    reading([document, file], {
      fileUse: [{ requestId: 'f', used }],
      laterUse: [{ requestId: 'f', used: later }],
    })
  const sweep = await pastSweep([page([[0, 10]], [[0, 30]]), page([[5, 20]], [[50, 60]])])
  const found = (await filesOverSite(db, sweep)).find(({ url }) => url.endsWith('f.js'))
  // Loads used 0–20, steps 20–30 and 50–60 beside that.
  expect(found).toMatchObject({ bytes: 100, pages: 2, idleEverywhere: 60, neededLater: 20 })
  expect(await filesOverSite(db, sweep, pages[0]!.id)).toHaveLength(1)
})
