import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { Sequelize } from 'sequelize'
import type { Page, Promises } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { keepPromises } from '../src/promise/keep-promises.js'
import { runPageJob } from '../src/worker/page-job.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { aHold, workerTools } from './worker-tools.js'
import { addFileToll } from './add-file-toll.js'
import { appForTest } from './app-for-test.js'

/** What was said that could be spared of a file, and what a later sweep finds of it. */
let t: Awaited<ReturnType<typeof appForTest>>
let browser: Browser
let plain: PlainSite
let site: string
let siteId: number
let pages: Page[]
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  plain = await plainSite()
  const { body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true, local: true })
  siteId = body.id
  site = `/sites/${siteId}`
  pages = (await t.call('GET', `${site}/pages`)).body
})
afterAll(async () => {
  await browser?.close()
  await plain?.stop()
  await t?.stop()
})

const tools = () => workerTools(t.app.get(Sequelize), { browser })
const promises = async (kind = 'file'): Promise<Promises> => (await t.call('GET', `${site}/promises?kind=${kind}`)).body
async function sweep(): Promise<number> {
  const pageIds = pages.slice(0, 2).map(({ id }) => id)
  const { body } = await t.call('POST', `${site}/sweeps`, { pageIds, repeats: 1 })
  for (const pageId of pageIds) await runPageJob(tools(), { sweepId: body.id, pageId }, aHold)
  return body.id
}
async function weighFiles(): Promise<void> {
  expect((await t.call('POST', `${site}/files`)).status).toBe(202)
  for (const { id } of await OnDemandRow.findAll({ where: { kind: 'files', state: 'waiting' } }))
    await runReadOnDemand(tools(), { id }, aHold)
}

const GALLERY = '/parts/heron-gallery/js/gallery.js'

it('is told by what the file weighs in the next sweep, and by nothing before that', async () => {
  expect(await promises()).toEqual({ sweepId: null, found: [], notYet: 0, toCome: 0 })
  expect((await t.call('GET', `${site}/promises?kind=fonts`)).status).toBe(422)
  await sweep()
  await weighFiles()
  // Comments, which a minifier takes off, and one file that comes unpacked.
  expect(await promises()).toMatchObject({ sweepId: null, found: [], toCome: 2 })
  await sweep()
  expect(await promises()).toMatchObject({ found: [], notYet: 2, toCome: 0 })

  plain.replaced.set(GALLERY, '/* herons */function never(){}')
  const swept = await sweep()
  const now = await promises()
  expect(now).toMatchObject({ sweepId: swept, notYet: 1 })
  expect(now.found).toMatchObject([{ url: plain.address + GALLERY, word: 'kept', now: plain.address + GALLERY }])
  const [file] = now.found
  // Both are weighed on the wire, where their heads differ by the digits of a length alone.
  const difference = `${'/* herons */'.repeat(300)}\nfunction never() {}`.length - plain.replaced.get(GALLERY)!.length
  expect(file!.came - difference).toBeGreaterThanOrEqual(0)
  expect(file!.came - difference).toBeLessThanOrEqual(4)
  expect(file!.spared).toBeGreaterThan(0)
})

it('stays as it was said while nothing changed, and is not said anew of what has', async () => {
  const [before] = (await promises()).found
  await weighFiles()
  const [after] = (await promises()).found
  expect(after).toEqual(before)
})

it('says of a picture that it came in another format, or that nothing of it comes any more', async () => {
  const db = t.app.get(Sequelize)
  const at = `${plain.address}/pictures/`
  const sweepId = await firstSweep(db)
  const met = (sweepOf: number, name: string, bytes: number) =>
    addFileToll(db, {
      sweepId: sweepOf,
      pageId: pages[0]!.id,
      payer: 'content',
      url: at + name,
      type: 'picture',
      transferBytes: bytes,
    })
  await met(sweepId, 'hill.jpg', 400_000)
  await met(sweepId, 'mast.png', 90_000)
  await keepPromises(db, siteId, 'picture', [
    { url: `${at}hill.jpg`, bytes: 399_700, saving: 300_000 },
    { url: `${at}mast.png`, bytes: 89_700, saving: 60_000 },
    { url: `${at}small.png`, bytes: 900, saving: 300 },
    { url: 'data:image/png;base64,AAAA', bytes: 9_000, saving: 3_000 },
  ])
  // As if they had been said after the first sweep.
  await db.query(
    `update weight_promise set sweep_id = $1, bytes = case url when $2 then 400000 else 90000 end where kind = 'picture'`,
    {
      bind: [sweepId, `${at}hill.jpg`],
    },
  )
  const last = await sweep()
  await met(last, 'hill.webp', 95_000)
  const { found, sweepId: told } = await promises('picture')
  expect(told).toBe(last)
  expect(
    found.map(({ url, word, came, now }) => [url.replace(at, ''), word, came, now?.replace(at, '') ?? null]),
  ).toEqual([
    ['hill.jpg', 'kept', 305_000, 'hill.webp'],
    ['mast.png', 'gone', 90_000, null],
  ])
})

const firstSweep = async (db: Sequelize): Promise<number> => {
  const [rows] = await db.query('select min(id) id from sweep')
  return (rows as { id: number }[])[0]!.id
}
