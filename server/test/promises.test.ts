import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { Sequelize } from 'sequelize'
import sharp from 'sharp'
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

it('knows a picture that was made anew under quite another name by its look, and takes no other for it', async () => {
  const was = await photograph(1)
  const other = await photograph(2)
  const [page] = pages
  const show = (...names: string[]) => {
    plain.gate = (html) =>
      html.replace('<img ', `${names.map((name) => `<img src="/pictures/${name}" width="300">`).join('')}<img `)
  }
  plain.replaced.set('/pictures/lake-at-dawn.jpg', await sharp(was).jpeg({ quality: 95 }).toBuffer())
  show('lake-at-dawn.jpg')
  await sweep()
  expect((await t.call('POST', `${site}/pages/${page!.id}/pictures`, { similarity: 0.95 })).status).toBe(202)
  for (const { id } of await OnDemandRow.findAll({ where: { kind: 'pictures', state: 'waiting' } }))
    await runReadOnDemand(tools(), { id }, aHold)
  const named = ({ found }: Promises) => found.find(({ url }) => url.endsWith('/lake-at-dawn.jpg'))

  // Another picture is no answer to it.
  plain.replaced.set('/pictures/img-8841.webp', await sharp(other).resize(300).webp().toBuffer())
  show('img-8841.webp')
  await sweep()
  expect(named(await promises('picture'))).toMatchObject({ word: 'gone', now: null })

  plain.replaced.set('/pictures/img-8842.webp', await sharp(was).resize(300).webp({ quality: 70 }).toBuffer())
  show('img-8841.webp', 'img-8842.webp')
  await sweep()
  expect(named(await promises('picture'))).toMatchObject({
    word: 'kept',
    now: `${plain.address}/pictures/img-8842.webp`,
  })
  plain.gate = null
}, 300_000)

/** A picture with slow changes, another one for each number. */
function photograph(n: number): Promise<Buffer> {
  const [width, height] = [900, 600]
  const data = Buffer.alloc(width * height * 3)
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let channel = 0; channel < 3; channel++)
        data[at++] = 128 + 60 * Math.sin(x * 0.011 * n + channel) + 50 * Math.cos(y * 0.017 + n * x * 0.02)
  return sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer()
}

const firstSweep = async (db: Sequelize): Promise<number> => {
  const [rows] = await db.query('select min(id) id from sweep')
  return (rows as { id: number }[])[0]!.id
}
