import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import type { ConsentCost, ConsentSide } from '@unvelt/contract'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { runPageJob } from '../src/worker/page-job.js'
import { askSite } from '../../testing/ask-site.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest, KEY } from './app-for-test.js'

/** What visitors load who agree to be followed, who refuse, and who have not answered. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let browser: Browser
let site: string
let about: number
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  const { body: pages } = await t.call('GET', `${site}/pages`)
  about = pages.find(({ path }: { path: string }) => path === '/about').id
})
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
})

const tools = () => workerTools(db, { browser })
async function look(wish: object = { path: '/about' }): Promise<ConsentCost> {
  expect((await t.call('POST', `${site}/consent`, wish)).status).toBe(202)
  expect((await t.call('POST', `${site}/consent`, wish)).status).toBe(409)
  const [row] = await OnDemandRow.findAll({ where: { kind: 'consent' }, order: [['id', 'desc']], limit: 1 })
  await runReadOnDemand(tools(), { id: row!.id }, aHold)
  return (await t.call('GET', `${site}/consent`)).body
}
const hosts = (cost: ConsentCost, side: ConsentSide['side']) =>
  cost.sides.find((one) => one.side === side)!.outsiders.map(({ host }) => host.split(':')[0])

it('a site that asks nobody has no banner', async () => {
  expect((await t.call('GET', `${site}/consent`)).body).toMatchObject({ state: 'none', banner: null, sides: [] })
  expect((await t.call('POST', `${site}/consent`, { path: 'about' })).status).toBe(422)
  const cost = await look()
  expect(cost).toMatchObject({ state: 'done', failure: null, banner: null, path: '/about' })
  expect(cost.sides).toHaveLength(1)
  expect(hosts(cost, 'before')).toContain('tagbasket.localhost')
})

let found: ConsentCost
it('the banner is found, and either answer tried on it', async () => {
  const { status } = await askSite(t.standin.address, '/unvelt/v1/add-ons/hedge-notice/install', {
    method: 'POST',
    headers: { authorization: `Bearer ${KEY}` },
    body: {},
  })
  expect(status).toBeLessThan(300)
  found = await look()
  expect(found.banner).toMatchObject({
    text: expect.stringContaining('cookies'),
    agree: { name: 'Yes, accept all' },
    refuse: { name: 'Only the necessary ones' },
  })
  expect(found.sides.map(({ side, failure }) => [side, failure])).toEqual([
    ['before', null],
    ['agreed', null],
    ['refused', null],
  ])
  const [before, agreed, refused] = found.sides
  // Typefaces of others are asked for before anybody has agreed; what follows visitors is not.
  expect(hosts(found, 'before')).toContain('letterloft.localhost')
  expect(hosts(found, 'before')).not.toContain('tagbasket.localhost')
  expect(hosts(found, 'agreed')).toEqual(expect.arrayContaining(['tagbasket.localhost', 'letterloft.localhost']))
  expect(hosts(found, 'refused').sort()).toEqual(hosts(found, 'before').sort())
  expect(agreed!.requests).toBeGreaterThan(before!.requests + 3)
  expect(refused!.requests).toBe(before!.requests)
})

async function readThrough(consent: object, name: string) {
  const { body: lenses } = await t.call('GET', `${site}/lenses`)
  const { device, network, cache } = lenses[0]
  const lens = { name, device, network, cache, visitor: { kind: 'signed-out' }, consent }
  const { status, body } = await t.call('POST', `${site}/lenses`, lens)
  expect([status, body.consent]).toEqual([201, consent])
  const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: [about], repeats: 1, lensIds: [body.id] })
  await runPageJob(tools(), { sweepId: sweep.id, pageId: about }, aHold)
  const [failures] = await db.query(`select failure from reading where sweep_id = ${sweep.id}`)
  const [tolls] = await db.query(`select payer, requests from toll where sweep_id = ${sweep.id} and page_id = ${about}`)
  return {
    failures: (failures as { failure: string | null }[]).map(({ failure }) => failure),
    tolls: tolls as { payer: string; requests: number }[],
  }
}
/** What is let in is charged to whoever lets it in. */
const letIn = ({ tolls }: Awaited<ReturnType<typeof readThrough>>) =>
  tolls.find(({ payer }) => payer === 'hedge-notice')!.requests

it('a lens sees the site as those who agreed do, or refused, and nothing else is taken for it', async () => {
  const agreed = await readThrough({ answer: 'agreed', by: 'press', ...found.banner!.agree }, 'Agreed')
  expect(agreed.failures).toEqual([null])
  expect(letIn(agreed)).toBeGreaterThan(10)
  const refused = await readThrough(
    { answer: 'refused', by: 'storage', key: 'hedge-notice', value: 'refused' },
    'Refused',
  )
  expect(refused.failures).toEqual([null])
  // Its own script and style.
  expect(letIn(refused)).toBe(2)
  // An entry that the site knows nothing of answers nothing, and what is pressed has to be there.
  const wrong = await readThrough({ answer: 'refused', by: 'cookie', cookie: 'somebody=asked' }, 'By a wrong cookie')
  expect(wrong.failures[0]).toContain('asks for consent, though the lens has answered')
  const gone = await readThrough(
    { answer: 'agreed', by: 'press', selector: '#nobody', name: 'Fine' },
    'By what is gone',
  )
  expect(gone.failures[0]).toContain('has no “Fine” to press any more')
  const other = await readThrough({ answer: 'agreed', by: 'press', selector: 'a', name: 'Fine' }, 'By something else')
  expect(other.failures[0]).toContain('has no “Fine” to press any more')
  const { status, body } = await t.call('POST', `${site}/lenses`, {
    name: 'Half',
    device: { viewportWidth: 800, viewportHeight: 600, phone: false, cpuSlowdown: 1 },
    network: null,
    visitor: { kind: 'signed-out' },
    cache: 'cold',
    consent: { answer: 'agreed', by: 'press' },
  })
  expect([status, body.errors[0].field]).toEqual([422, 'consent/selector'])
})
