import 'reflect-metadata'
import { QueryTypes, Sequelize } from 'sequelize'
import type { Reading, ServerTimingEntry } from '@unvelt/core'
import { CONFIG } from '../src/config/config.module.js'
import type { Config } from '../src/config/config.js'
import { pagesWithSpans } from '../src/reading/mark-spans.js'
import { ReadingRow } from '../src/reading/reading.model.js'
import { readingsOf, storeReading, storeTolls } from '../src/reading/reading-store.js'
import { takeSpans } from '../src/reading/take-spans.js'
import { newTrace } from '../src/trace/trace-store.js'
import { traceToken } from '../src/trace/trace-token.js'
import { runTakeSpansJob } from '../src/worker/take-spans-job.js'
import { aReading, SOURCES } from './a-reading.js'
import { appForTest, KEY } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** Spans alone tell of the server as a header does: those that are there when a page is worked out, and those that come late. */
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

const BEGUN_NS = 1_796_000_000_000_000_000n
const at = (ms: number) => String(BEGUN_NS + BigInt(ms) * 1_000_000n)
const span = (traceId: string, n: number, to: number, addon: string | null, parent?: number) => ({
  traceId,
  spanId: String(n).padStart(16, '0'),
  ...(parent !== undefined && { parentSpanId: String(parent).padStart(16, '0') }),
  name: `step ${n}`,
  kind: addon === null ? 2 : 1,
  startTimeUnixNano: at(0),
  endTimeUnixNano: at(to),
  attributes: [
    addon === null
      ? { key: 'http.request.method', value: { stringValue: 'GET' } }
      : { key: 'unvelt.addon', value: { stringValue: addon } },
  ],
})
async function send(spans: object[], token = t.app.get<Config>(CONFIG).tracesToken): Promise<void> {
  const response = await fetch(`${await t.app.getUrl()}/v1/traces`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${token}` },
    body: JSON.stringify({ resourceSpans: [{ scopeSpans: [{ spans }] }] }),
  })
  expect(response.status).toBe(200)
}
const entry = (name: string, duration: number): ServerTimingEntry => ({ name, duration, description: '' })
const store = (repeat: number, traceId: string, serverTiming: ServerTimingEntry[] = []) =>
  storeReading({ ...place, repeat }, { ...aReading({ slider: 900 }), traceId, serverTiming } as Reading, SOURCES)
const serverMs = async () =>
  Object.fromEntries(
    (
      await db.query<{ payer: string; ms: number }>(
        `select payer, server_ms ms from toll where sweep_id = $1 and page_id = $2 and server_ms > 0`,
        { bind: [place.sweepId, place.pageId], type: QueryTypes.SELECT },
      )
    ).map(({ payer, ms }) => [payer, ms]),
  )
const rowOf = (repeat: number) => ReadingRow.findOne({ where: { ...place, repeat } })
const asDone = (state: string) =>
  db.query('update sweep_page set state = $1 where sweep_id = $2', { bind: [state, place.sweepId] })

it('spans that came before a page was worked out are charged by payer, and stay with the reading', async () => {
  const { traceId } = newTrace(siteId)
  await send([span(traceId, 1, 100, null), span(traceId, 2, 60, 'slider', 1)])
  // An entry that says nothing of the whole tells nothing of the server.
  await store(1, traceId, [entry('cdn-cache', 0)])
  expect(await rowOf(1)).toMatchObject({ serverMs: null, spansWait: true })
  const { variants, settle } = await takeSpans(db, place, SOURCES)
  expect([...variants]).toEqual(['live'])
  await storeTolls(db, siteId, place, SOURCES)
  // Whoever is killed before that finds them again; and what came meanwhile stays to be looked at.
  expect(await rowOf(1)).toMatchObject({ spansWait: true })
  await send([span(traceId, 3, 10, 'slider', 1)])
  await settle()
  expect(await rowOf(1)).toMatchObject({ spansWait: true })
  await (await takeSpans(db, place, SOURCES)).settle()
  expect(await serverMs()).toEqual({ slider: 60, cms: 40 })
  expect(await rowOf(1)).toMatchObject({ serverMs: 100, spansWait: false })
  // What is told of them stays when the traces are gone.
  await db.query('delete from trace_part')
  await storeTolls(db, siteId, place, SOURCES)
  expect(await serverMs()).toEqual({ slider: 60, cms: 40 })
})

it('spans that come late publish the page anew, once it is no longer being read', async () => {
  const { traceId } = newTrace(siteId)
  await store(2, traceId)
  await storeTolls(db, siteId, place, SOURCES)
  await send([span(traceId, 1, 70, null)])
  await send([span(traceId, 2, 50, 'slider', 1)])
  const job = { sweepId: place.sweepId, pageId: place.pageId }
  await asDone('reading')
  expect(await pagesWithSpans(db)).toEqual([])
  await runTakeSpansJob(workerTools(db), job, aHold)
  expect(await rowOf(2)).toMatchObject({ serverMs: null, spansWait: true })
  await asDone('done')
  expect(await pagesWithSpans(db)).toEqual([job])
  await runTakeSpansJob(workerTools(db), job, aHold)
  expect(await pagesWithSpans(db)).toEqual([])
  // Of two repeats the lower is the middle one.
  expect(await serverMs()).toEqual({ slider: 50, cms: 20 })
  const readings = await readingsOf(place.sweepId, place.pageId, 'live')
  expect(readings.map(({ serverTiming }) => serverTiming.find(({ name }) => name === 'total')?.duration)).toEqual([
    100, 70,
  ])
  // More of the same trace is taken, too.
  await send([span(traceId, 3, 30, 'share', 2)])
  await runTakeSpansJob(workerTools(db), job, aHold)
  expect(await serverMs()).toEqual({ slider: 20, share: 30, cms: 20 })
})

it('what the page’s own header tells stands, and nobody tells of another site’s readings', async () => {
  const { traceId } = newTrace(siteId)
  await store(3, traceId, [entry('total', 80), entry('addon.slider', 10)])
  await send([span(traceId, 1, 900, null)])
  expect(await rowOf(3)).toMatchObject({ serverMs: 80, spansWait: false, spanTiming: null })
  const silent = newTrace(siteId).traceId
  await store(4, silent)
  const other = (
    await t.call('POST', '/sites', { address: 'http://other.localhost:9', withoutConnector: true, local: true })
  ).body.id as number | undefined
  await send([span(silent, 1, 900, null)], traceToken(t.app.get<Config>(CONFIG).secret, other ?? siteId + 1))
  expect(await rowOf(4)).toMatchObject({ serverMs: null, spansWait: false })
})
