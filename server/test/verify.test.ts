import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { Sequelize } from 'sequelize'
import type { Verification } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest } from './app-for-test.js'

/** Rules that somebody else carries out, at a gate of their own before a site without a connector. */
let t: Awaited<ReturnType<typeof appForTest>>
let browser: Browser
let plain: PlainSite
let site: string
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  plain = await plainSite()
  const { body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await browser?.close()
  await plain?.stop()
  await t?.stop()
})

const GALLERY = { addon: 'own:/parts/heron-gallery/', effect: 'leave-out', place: { level: 'everywhere' } }
const STRANGER = {
  addon: 'outside:stranger.localhost',
  effect: 'hold',
  until: 'idle',
  place: { level: 'page', path: '/about' },
}
const draft = (...rules: object[]) => t.call('POST', `${site}/drafts`, { rules })
const look = async (): Promise<Verification> => (await t.call('GET', `${site}/verification`)).body

/** Begins, and reads all pages as a worker would. */
async function verify(): Promise<Verification> {
  const { body: begun, status } = await t.call('POST', `${site}/verification`)
  expect(status).toBe(202)
  expect(begun).toMatchObject({ pagesDone: 0, holds: false, takenAt: null })
  const tools = workerTools(t.app.get(Sequelize), { browser })
  for (const { id } of await OnDemandRow.findAll({ where: { kind: 'verify', state: 'waiting' } }))
    await runReadOnDemand(tools, { id }, aHold)
  return look()
}
const without = (html: string) => html.replace(/<script src="\/parts\/heron-gallery[^>]*><\/script>/, '')
const waits = (html: string) => html.replace(/<script src="(http:\/\/stranger[^"]*)">/, '<script data-later="$1">')

it('tells of each rule where it is not carried out yet, by what stands in the page and by what arrives', async () => {
  expect(await look()).toMatchObject({ pages: 0, rules: [], holds: false })
  expect((await t.call('POST', `${site}/verification`)).status).toBe(409)
  expect((await draft(GALLERY, STRANGER)).status).toBe(200)
  const { pages, pagesDone, rules, holds, failed } = await verify()
  expect({ done: pagesDone, holds, failed }).toEqual({ done: pages, holds: false, failed: [] })
  const of = (addon: string) => rules.find((one) => one.rule.addon === addon)
  const [gallery, stranger] = [of(GALLERY.addon), of(STRANGER.addon)]
  const file = `${plain.address}/parts/heron-gallery/js/gallery.js`
  expect(gallery).toMatchObject({ isDraft: true, unknown: 0, rule: { addon: GALLERY.addon } })
  expect(gallery!.left).toHaveLength(gallery!.views)
  expect(gallery!.left[0]).toMatchObject({ inPage: [file], arrived: [file] })
  // What is held may arrive; that it stands in the page as it was is what tells.
  expect(new Set(stranger!.left.map(({ path }) => path))).toEqual(new Set(['/about']))
  expect(stranger!.left[0]).toMatchObject({ inPage: [expect.stringContaining('/count.js')], arrived: [] })
  expect((await t.call('POST', `${site}/verification/adopt`)).status).toBe(409)
})

it('counts them as live once all hold, and tells later when one does not any more', async () => {
  plain.gate = (html) => (html.includes('<h1>About') ? waits(without(html)) : without(html))
  expect(await verify()).toMatchObject({ holds: true, stale: null })
  const { body: adopted, status } = await t.call('POST', `${site}/verification/adopt`)
  expect(status).toBe(200)
  expect(adopted).toMatchObject({ holds: true, stale: null, rules: [{ isDraft: false }, { isDraft: false }] })
  const { body: live } = await t.call('GET', `${site}/rules`)
  expect(live.version).toBe(1)
  const addOns = live.versions[0].rules.map(({ addon }: { addon: string }) => addon)
  expect(new Set(addOns)).toEqual(new Set([GALLERY.addon, STRANGER.addon]))
  expect((await t.call('GET', `${site}/drafts`)).body.rules).toEqual([])
  expect((await t.call('POST', `${site}/verification/adopt`)).status).toBe(409)

  plain.gate = without
  const { holds, rules } = await verify()
  expect(holds).toBe(false)
  expect(rules.flatMap(({ left, rule }) => (left.length > 0 ? rule.addon : []))).toEqual([STRANGER.addon])
})

it('sees that what is to go is gone, and says nothing of drafts that came after it was looked', async () => {
  expect((await draft({ ...STRANGER, removed: true })).status).toBe(200)
  expect(await verify()).toMatchObject({ holds: true })
  expect((await draft({ ...GALLERY, effect: 'order', order: 'end' })).status).toBe(200)
  expect(await look()).toMatchObject({ holds: false, stale: 'the rules have changed since.' })
  await t.call('DELETE', `${site}/drafts`)
  await draft({ ...STRANGER, removed: true })
  await verify()
  expect((await t.call('POST', `${site}/verification/adopt`)).status).toBe(200)
  const { body: now } = await t.call('GET', `${site}/rules`)
  expect(now).toMatchObject({ version: 2, versions: [{ rules: [{ addon: GALLERY.addon }] }, { version: 1 }] })
  // Nothing was looked at since the draft became what is live, and nothing needs to be.
  expect(await look()).toMatchObject({ holds: true })
})

it('says of a page that can’t be read why, and is stopped with what it has', async () => {
  // All of it holds wherever one looks.
  plain.gate = (html) => waits(without(html))
  await draft(STRANGER)
  const { body: begun } = await t.call('POST', `${site}/verification`)
  expect((await t.call('POST', `${site}/verification`)).status).toBe(409)
  const [first] = await OnDemandRow.findAll({ where: { kind: 'verify', state: 'waiting' }, order: ['id'] })
  await runReadOnDemand(workerTools(t.app.get(Sequelize), { browser }), { id: first!.id }, aHold)
  const { body: stopped } = await t.call('DELETE', `${site}/verification`)
  expect(stopped.rules.flatMap(({ left }: { left: object[] }) => left)).toEqual([])
  // A page that nobody looked at holds nothing, so that nothing counts as live by halves.
  expect(stopped).toMatchObject({ pages: begun.pages, pagesDone: begun.pages, holds: false })
  expect(stopped.failed).toHaveLength(begun.pages - 1)
  expect(stopped.failed[0].why).toBe('It was stopped before this page was looked at.')
  expect((await t.call('POST', `${site}/verification/adopt`)).status).toBe(409)
  const { address } = plain
  await plain.stop()
  const { failed, holds } = await verify()
  expect(holds).toBe(false)
  expect(failed[0]).toMatchObject({ path: expect.any(String), why: expect.stringMatching(/\.$/) })
  expect(address).toContain('plain.localhost')
})
