import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { Sequelize } from 'sequelize'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { culpritJob } from '../src/culprit/search-job.js'
import { endComparing } from '../src/picture/compare-pictures.js'
import { QUEUE } from '../src/queue/queue.module.js'
import { runRehearsal } from '../src/rehearsal/run-rehearsal.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest } from './app-for-test.js'

/** Two drafts that break a page only together, on a site that tells nothing of itself. */
let t: Awaited<ReturnType<typeof appForTest>>
let browser: Browser
let plain: PlainSite
let site: string
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  plain = await plainSite()
  // Either will do for the page; without both it complains.
  plain.replaced.set('/parts/heron-gallery/js/gallery.js', 'window.herons = 1')
  plain.replaced.set(
    '/made/all.js',
    `addEventListener('load', () => { if (!window.herons && !window.counted) throw new Error('nobody is there') })`,
  )
  const { body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await endComparing()
  await browser?.close()
  await plain?.stop()
  await t?.stop()
})

const PAIR = ['own:/parts/heron-gallery/', 'outside:stranger.localhost']

it('are found as a pair and named together, and set aside with one reason', async () => {
  const { body: pages } = await t.call('GET', `${site}/pages`)
  const { id: home } = pages.find(({ path }: { path: string }) => path === '/')
  const rules = [...PAIR, 'own:/look/pond/'].map((addon) => ({
    addon,
    effect: 'leave-out',
    place: { level: 'page', path: '/' },
  }))
  expect((await t.call('POST', `${site}/drafts`, { rules })).status).toBe(200)
  const { body: begun, status } = await t.call('POST', `${site}/rehearsals`, { pageIds: [home], best: true })
  expect([status, begun.title]).toEqual([201, undefined])
  const tools = workerTools(t.app.get(Sequelize), { browser })
  await runRehearsal(tools, { id: begun.id }, aHold)
  const { body: sheet } = await t.call('GET', `/rehearsals/${begun.id}`)
  const search = sheet.searches.find(({ guard }: { guard: string }) => guard === 'errors')
  expect(search).toMatchObject({ state: 'running', found: ['nobody is there'] })
  await culpritJob({ ...tools, queue: t.app.get(QUEUE) }).run({ id: search.id }, aHold)

  const { body: after } = await t.call('GET', `/rehearsals/${begun.id}`)
  const { culprits, tries } = after.searches.find(({ id }: { id: number }) => id === search.id)
  const addOnOf = (id: string) => after.drafts.find((rule: { id: string }) => rule.id === id).addon
  expect(culprits.map(addOnOf).sort()).toEqual([...PAIR].sort())
  // Neither of them breaks it by itself, and that was seen.
  for (const alone of culprits)
    expect(tries).toContainEqual(expect.objectContaining({ changes: [alone], fails: false }))
  const { body: drafts } = await t.call('GET', `${site}/drafts`)
  expect(drafts.aside.map(({ rule }: { rule: { addon: string } }) => rule.addon).sort()).toEqual([...PAIR].sort())
  expect(drafts.rules.map(({ addon }: { addon: string }) => addon)).toEqual(['own:/look/pond/'])
})
