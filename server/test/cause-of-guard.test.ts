import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import type { CauseSearch, RehearsalSheet } from '@unvelt/contract'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { causeJob } from '../src/complaint/cause-job.js'
import { endComparing } from '../src/picture/compare-pictures.js'
import { runRehearsal } from '../src/rehearsal/run-rehearsal.js'
import { runPageJob } from '../src/worker/page-job.js'
import { askSite } from '../../testing/ask-site.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** A guard that fails on the live site, in a round, is traced to what changed or to what hides it. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let browser: Browser
let site: string
let article: number
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  process.env.STANDIN_PAGES = '1000'
  db = await connect(t.databaseUrl)
  await begin({ address: t.standin.address, connectorKey: KEY, local: true })
})
afterAll(async () => {
  await endComparing()
  await browser?.close()
  await db?.close()
  await t?.stop()
})

async function begin(wish: object): Promise<void> {
  const { body } = await t.call('POST', '/sites', wish)
  site = `/sites/${body.id}`
  const { body: pages } = await t.call('GET', `${site}/pages`)
  article = pages.find(({ path }: { path: string }) => path === '/articles/counting-rings').id
  const { body: lenses } = await t.call('GET', `${site}/lenses`)
  for (const { id, device } of lenses) if (device.phone) await t.call('DELETE', `${site}/lenses/${id}`)
}
const tools = () => workerTools(db, { browser })
const install = (version: string) =>
  askSite(t.standin.address, '/unvelt/v1/add-ons/code-colours/install', {
    method: 'POST',
    headers: { authorization: `Bearer ${KEY}` },
    body: { version },
  })
async function sweep(): Promise<void> {
  const { body } = await t.call('POST', `${site}/sweeps`, { pageIds: [article], repeats: 1 })
  await runPageJob(tools(), { sweepId: body.id, pageId: article }, aHold)
}
async function play(): Promise<RehearsalSheet> {
  const { body } = await t.call('POST', `${site}/rounds`, { pageIds: [article] })
  await runRehearsal(tools(), { id: body.id }, aHold)
  return (await t.call('GET', `/rehearsals/${body.id}`)).body
}
const wishOf = (sheet: RehearsalSheet, guard: string) => ({ pageId: article, lensId: sheet.each[0]!.lensId, guard })
async function look(sheet: RehearsalSheet, guard: string): Promise<CauseSearch> {
  const { body, status } = await t.call('POST', `/rehearsals/${sheet.id}/causes`, wishOf(sheet, guard))
  expect([status, body]).toEqual([201, expect.objectContaining({ state: 'running' })])
  await causeJob(tools()).run({ id: body.id }, aHold)
  const { body: all } = await t.call('GET', `/rehearsals/${sheet.id}/causes`)
  return all.searches[0]
}
const failing = ({ each }: RehearsalSheet) =>
  each[0]!.guards.filter(({ outcome }) => outcome === 'fails').map(({ guard }) => guard)

let broken: RehearsalSheet
it('what an update took from a page is found by putting it back as it was', async () => {
  expect(failing(await play())).toEqual([])
  await install('4.1.0')
  broken = await play()
  expect(failing(broken)).toEqual(expect.arrayContaining(['errors', 'picture']))
  const refused = await t.call('POST', `/rehearsals/${broken.id}/causes`, wishOf(broken, 'picture'))
  expect([refused.status, refused.body.title]).toEqual([409, expect.stringContaining('No sweep has read this page')])
  await sweep()
  const ask = (guard: string) => t.call('POST', `/rehearsals/${broken.id}/causes`, wishOf(broken, guard))
  expect((await ask('links')).status).toBe(409)
  expect((await ask('moods')).status).toBe(422)

  const search = await look(broken, 'picture')
  expect(search).toMatchObject({
    kind: 'guard',
    guard: 'picture',
    roundId: broken.id,
    state: 'done',
    text: expect.stringContaining('of the picture differs'),
    guilty: [{ slug: 'code-colours', version: '4.1.0' }],
  })
  expect(search.stages[0]).toMatchObject({
    level: 'earlier',
    mends: true,
    outcome: 'found',
    found: ['code-colours'],
    tries: [
      { changes: [], fails: false },
      { changes: ['code-colours'], fails: true, readings: 2 },
    ],
  })
  // Which version does it without is known; other ones are not tried.
  expect(search.stages.map(({ level }) => level)).not.toContain('version')
  const { body } = await t.call('GET', `/rehearsals/${broken.id}/causes`)
  expect(body.changed).toEqual([{ slug: 'code-colours', name: 'Code Colours', from: '4.0.0', to: '4.1.0' }])
})

it('what is mended meanwhile is said so; a sound round has nothing to look into', async () => {
  await install('4.0.0')
  const search = await look(broken, 'errors')
  expect(search).toMatchObject({ state: 'done', guilty: [], stages: [{ outcome: 'never' }] })
  const sound = await play()
  expect(failing(sound)).toEqual([])
  expect((await t.call('POST', `/rehearsals/${sound.id}/causes`, wishOf(sound, 'errors'))).status).toBe(409)
})

it('of a site that tells no versions it is found by leaving out', async () => {
  await db.query('delete from site')
  await begin({ address: t.standin.address, withoutConnector: true, local: true })
  await play()
  await install('4.1.0')
  const round = await play()
  await sweep()
  const search = await look(round, 'errors')
  expect(search.stages[0]).toMatchObject({ level: 'absent', mends: true, outcome: 'found' })
  expect(search.guilty).toEqual([expect.objectContaining({ slug: expect.stringContaining('code-colours') })])
  const files = search.stages.find(({ level }) => level === 'file')!
  expect(files).toMatchObject({ mends: true, outcome: 'found' })
  expect(files.found[0]).toMatch(/(pack-text|code-colours)\.js$/)
})
