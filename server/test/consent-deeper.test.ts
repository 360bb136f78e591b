import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import type { ConsentCost } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { connect } from '../src/database/connect.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runPageJob } from '../src/worker/page-job.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { appForTest } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** A banner that refuses only behind what it leads to, and keeps the answer no longer than the tab is open. */
const BANNER = `<div id="ask" style="position:fixed;bottom:0">We use cookies.
  <button id="yes">Accept all</button> <a id="policy" href="/about">Options and policy</a> <button id="more">Manage preferences</button></div>
  <div id="deep" role="dialog" hidden style="position:fixed;top:0">Which cookies may we use? <button id="no">Reject all</button></div>
  <script>
    const [ask, deep] = ['ask', 'deep'].map((id) => document.getElementById(id))
    const follow = () => { new Image().src = '/pictures/followed.png' }
    const give = (said) => { sessionStorage.setItem('said', said); ask.remove(); deep.remove(); if (said === 'yes') follow() }
    const said = sessionStorage.getItem('said')
    if (said) { ask.remove(); deep.remove(); if (said === 'yes') follow() }
    document.getElementById('yes')?.addEventListener('click', () => give('yes'))
    document.getElementById('no')?.addEventListener('click', () => give('no'))
    document.getElementById('more')?.addEventListener('click', () => { setTimeout(() => { deep.hidden = false }, 300) })
  </script>`
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let plain: PlainSite
let site: string
let siteId: number
const tools = () => workerTools(db, { browser })
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  plain = await plainSite()
  plain.gate = (html) => html.replace('<h1>', `${BANNER}<h1>`)
  siteId = (await t.call('POST', '/sites', { address: plain.address, local: true, withoutConnector: true })).body.id
  site = `/sites/${siteId}`
}, 300_000)
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
  await plain?.stop()
})

async function look(): Promise<ConsentCost> {
  expect((await t.call('POST', `${site}/consent`, { path: '/about' })).status).toBeLessThan(300)
  const row = (await OnDemandRow.findOne({ where: { siteId, kind: 'consent', state: 'waiting' } }))!
  await runReadOnDemand(tools(), { id: row.id }, aHold)
  return (await t.call('GET', `${site}/consent`)).body
}
async function readThrough(consent: object, name: string) {
  const { body: lenses } = await t.call('GET', `${site}/lenses`)
  const { device, network, cache } = lenses[0]
  const lens = { name, device, network, cache, visitor: { kind: 'signed-out' }, consent }
  const { status, body } = await t.call('POST', `${site}/lenses`, lens)
  expect([status, body.consent]).toEqual([201, consent])
  const { body: pages } = await t.call('GET', `${site}/pages`)
  const pageId = pages.find(({ path }: { path: string }) => path === '/about').id
  const from = plain.asked.length
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: [pageId], repeats: 1, lensIds: [body.id] })
  await runPageJob(tools(), { sweepId: sweep.id, pageId }, aHold)
  const [rows] = await db.query(`select failure from reading where sweep_id = ${sweep.id}`)
  return {
    failure: (rows as { failure: string | null }[])[0]!.failure,
    followed: plain.asked.slice(from).filter((path) => path.includes('followed')).length,
  }
}

it('what refuses behind more of the banner is found, and either answer is carried over with the tab', async () => {
  const { banner, sides } = await look()
  expect(banner).toMatchObject({
    agree: { name: 'Accept all' },
    refuse: { name: 'Reject all', selector: '#no', first: { name: 'Manage preferences', selector: '#more' } },
  })
  expect(sides.map(({ side, failure }) => [side, failure])).toEqual([
    ['before', null],
    ['agreed', null],
    ['refused', null],
  ])
  // A browser asks for a site's sign once only, so the first of them has one more of its own.
  const [, agreed, refused] = sides
  expect(agreed!.requests).toBe(refused!.requests + 1)

  const refusing = await readThrough({ answer: 'refused', by: 'press', ...banner!.refuse }, 'Refused')
  expect(refusing).toEqual({ failure: null, followed: 0 })
}, 300_000)

it('an entry that lasts as long as the tab answers too, and a wrong one does not', async () => {
  const yes = await readThrough({ answer: 'agreed', by: 'session', key: 'said', value: 'yes' }, 'By the tab')
  expect(yes.failure).toBeNull()
  expect(yes.followed).toBeGreaterThan(0)
  const wrong = await readThrough({ answer: 'agreed', by: 'session', key: 'told', value: 'yes' }, 'By a wrong entry')
  expect(wrong).toMatchObject({ failure: expect.stringContaining('asks for consent'), followed: 0 })
  const gone = await readThrough(
    { answer: 'refused', by: 'press', selector: '#no', name: 'Reject all', first: { selector: '#gone', name: 'More' } },
    'By what leads nowhere',
  )
  expect(gone.failure).toContain('has no “Reject all” to press any more')
}, 300_000)
