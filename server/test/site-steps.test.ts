import 'reflect-metadata'
import { jest } from '@jest/globals'
import type { Browser } from 'playwright-core'
import { Sequelize } from 'sequelize'
import type { Page, PageSheet } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { ReadingRow } from '../src/reading/reading.model.js'
import { Turns } from '../src/worker/turns.js'
import { runPageJob } from '../src/worker/page-job.js'
import { allReadingsOf } from '../src/reading/reading-store.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let browser: Browser
let plain: PlainSite
let site: string
let steps: string

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  plain = await plainSite()
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: plain.address, local: true, withoutConnector: true })
  site = `/sites/${body.id}`
  steps = `${site}/steps`
})
afterAll(async () => {
  await t?.stop()
  await plain?.stop()
  await browser?.close()
})

const names = async () => (await t.call('GET', steps)).body.steps.map(({ name }: { name: string }) => name)
const heading = { name: 'look at the heading', kind: null, actions: [{ do: 'click', at: 'h1' }] }

it('are the standard ones until somebody changes them, and again when they are put back', async () => {
  const standard = (await t.call('GET', steps)).body
  expect(standard).toMatchObject({ standard: true })
  expect(standard.steps.length).toBeGreaterThan(3)
  const changed = await t.call('PUT', steps, { steps: [heading] })
  expect(changed).toMatchObject({ status: 200, body: { standard: false, steps: [heading] } })
  expect((await t.call('DELETE', steps)).body).toEqual(standard)
})

it.each([
  ['two of one name', [heading, heading], 'steps/1/name'],
  ['the name of what the page does by itself', [{ ...heading, name: 'by itself' }], 'steps/0/name'],
  ['an action without its place', [{ ...heading, actions: [{ do: 'click' }] }], 'steps/0/actions/0/at'],
  ['nothing to type', [{ ...heading, actions: [{ do: 'type', at: 'input' }] }], 'steps/0/actions/0/text'],
  ['something that nobody can do', [{ ...heading, actions: [{ do: 'buy', at: 'a' }] }], 'steps/0/actions/0/do'],
  [
    'an attribute that can’t be one',
    [{ ...heading, actions: [{ do: 'expect', at: 'a', attribute: 'a b' }] }],
    'steps/0/actions/0/attribute',
  ],
  ['no actions at all', [{ ...heading, actions: [] }], 'steps/0/actions'],
])('are refused with %s, and the place is named', async (_, wanted, field) => {
  const before = await names()
  const { status, body } = await t.call('PUT', steps, { steps: wanted })
  expect(status).toBe(422)
  expect(body.errors.map((error: { field: string }) => error.field)).toContain(field)
  expect(await names()).toEqual(before)
})

it('take a recording in as one more, under a name of its own', async () => {
  const recording = { title: 'search', steps: [{ type: 'click', selectors: [['aria/Search'], ['#go']] }] }
  await t.call('POST', `${steps}/recordings`, { recording })
  expect((await names()).at(-1)).toBe('search 2')
  const bad = await t.call('POST', `${steps}/recordings`, { recording: { steps: [{ type: 'fly' }] } })
  expect(bad).toMatchObject({ status: 422, body: { errors: [{ field: 'recording/steps/0/type' }] } })
  await t.call('DELETE', steps)
})

it('are taken by the first repeat that succeeds; those after it are clean, and know what it saw', async () => {
  await t.call('PUT', steps, { steps: [heading, { ...heading, name: 'on news only', kind: 'news' }] })
  const [page]: Page[] = (await t.call('GET', `${site}/pages`)).body
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: [page!.id], repeats: 3 })
  const tools = workerTools(t.app.get(Sequelize), { browser })
  await runPageJob(tools, { sweepId: sweep.id, pageId: page!.id }, aHold)
  const readings = await allReadingsOf(sweep.id, page!.id, 'live')
  expect(readings.map(({ clean = false }) => clean)).toEqual([false, true, true])
  expect(readings.map((reading) => reading.steps.map(({ name }) => name))).toEqual([
    ['by itself', 'look at the heading'],
    [],
    [],
  ])
  const used = readings.map(({ requests, fileUse }) =>
    fileUse.map(({ requestId, used }) => [requests.find(({ id }) => id === requestId)!.url, used]).sort(),
  )
  expect(used[0]!.length).toBeGreaterThan(0)
  expect(used[1]).toEqual(used[0])
  expect(used[2]).toEqual(used[0])
  const sheet: PageSheet = (await t.call('GET', `${site}/pages/${page!.id}?sweep=${sweep.id}`)).body
  // This site marks nothing, so all that came with the HTML is the page's.
  expect(sheet.writersTold).toBe(false)
  expect(sheet.elementsBy.filter(({ written }) => written > 0).map(({ payer }) => payer)).toEqual(['content'])
  // The first one may have had another page beside it: its load time is none that counts.
  const rows = await ReadingRow.findAll({ where: { sweepId: sweep.id }, order: ['repeat'] })
  expect(rows.map(({ loadMs }) => loadMs !== null)).toEqual([false, true, true])
  // The times are those of the two clean ones.
  const [second, third] = readings.slice(1).map(({ timings }) => timings.load!)
  expect(sheet).toMatchObject({ repeats: 3, timedRepeats: 2 })
  expect(sheet.timings.load).toBeCloseTo((second! + third!) / 2, 3)
})

it('are taken alone where no other repeat follows, since that one gives the times, too', async () => {
  const [page]: Page[] = (await t.call('GET', `${site}/pages`)).body
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: [page!.id], repeats: 1 })
  const turns = new Turns()
  const alone = jest.spyOn(turns, 'alone')
  const tools = workerTools(t.app.get(Sequelize), { browser, turns })
  await runPageJob(tools, { sweepId: sweep.id, pageId: page!.id }, aHold)
  expect(alone).toHaveBeenCalledTimes(1)
  const rows = await ReadingRow.findAll({ where: { sweepId: sweep.id } })
  expect(rows.map(({ loadMs }) => loadMs !== null)).toEqual([true])
})
