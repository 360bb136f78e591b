import 'reflect-metadata'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import sharp from 'sharp'
import { connect } from '../src/database/connect.js'
import { launchBrowser } from '../src/browser/browser.js'
import { Browsers } from '../src/browser/browsers.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { PictureFileRow } from '../src/picture-look/picture-file.model.js'
import { remakePicture } from '../src/picture-look/remake-picture.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest } from './app-for-test.js'

/** The pictures of a plain site: far too large, in sight and below, hidden, of lines, broken. */
const hills = (width: number, height: number) =>
  sharp({
    create: { width, height, channels: 3, background: '#4a7' },
  }).composite([
    {
      input: Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><defs><linearGradient id="a"><stop offset="0" stop-color="#fc8"/><stop offset="1" stop-color="#247"/></linearGradient></defs><rect width="100%" height="60%" fill="url(#a)"/><circle cx="30%" cy="70%" r="12%" fill="#742"/></svg>`,
      ),
    },
  ])
let site: Server
let files: Record<string, { type: string; body: Buffer }>
let t: Awaited<ReturnType<typeof appForTest>>
let db: Awaited<ReturnType<typeof connect>>
let path: string
const browsers = new Browsers(() => launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium'))
const PAGE = `<!doctype html><title>Hills</title><meta name="viewport" content="width=device-width"><body style="margin:0">
  <img src="/large.jpg" width="320" height="240"><img src="/small.jpg" width="64" height="48">
  <div style="width:200px;height:150px;background:url(/large.png) center/cover"></div>
  <img src="/hidden.jpg" style="display:none"><img src="/lines.svg" width="40" height="40"><img src="/broken.jpg"><img src="/moved.jpg" width="30" height="20">
  <div style="height:3000px"></div><img src="/below.jpg" loading="lazy" width="160" height="120">`

beforeAll(async () => {
  const lines =
    '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><!-- by hand --><script>alert(1)</script><path fill="#ff0000" d="M 0.00000 0.00000 L 40.00000 40.00000 L 0.00000 40.00000 Z"/></svg>'
  files = {
    '/large.jpg': { type: 'image/jpeg', body: await hills(1600, 1200).jpeg({ quality: 95 }).toBuffer() },
    '/small.jpg': { type: 'image/jpeg', body: await hills(64, 48).jpeg({ quality: 30 }).toBuffer() },
    '/large.png': { type: 'image/png', body: await hills(800, 600).png().toBuffer() },
    '/hidden.jpg': { type: 'image/jpeg', body: await hills(320, 240).jpeg({ quality: 95 }).toBuffer() },
    '/below.jpg': { type: 'image/jpeg', body: await hills(640, 480).jpeg({ quality: 95 }).toBuffer() },
    '/lines.svg': { type: 'image/svg+xml', body: Buffer.from(lines) },
    '/broken.jpg': { type: 'image/jpeg', body: Buffer.from('no picture at all') },
  }
  site = createServer((request, response) => {
    const file = files[request.url!]
    if (file) response.setHeader('content-type', file.type).end(file.body)
    else if (request.url === '/moved.jpg') response.writeHead(302, { location: '/small.jpg' }).end()
    else if (request.url === '/') response.setHeader('content-type', 'text/html').end(PAGE)
    else response.writeHead(404).end()
  })
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve))
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const address = `http://127.0.0.1:${(site.address() as AddressInfo).port}`
  const { body } = await t.call('POST', '/sites', { address, withoutConnector: true, local: true })
  const [page] = (await t.call('GET', `/sites/${body.id}/pages`)).body
  path = `/sites/${body.id}/pages/${page.id}/pictures`
})
afterAll(async () => {
  await browsers.close()
  await db?.close()
  await t?.stop()
  site?.closeAllConnections()
  site?.close()
})

const look = async (wish = {}) => {
  expect((await t.call('POST', path, wish)).status).toBe(202)
  const [row] = await OnDemandRow.findAll({ order: [['id', 'desc']], limit: 1 })
  await runReadOnDemand(workerTools(db, { browsers }), { id: row!.id }, aHold)
  return (await t.call('GET', path)).body.newest
}
const fetchFile = async (n: number, as: string) => fetch(`${await t.app.getUrl()}/api${path}/files/${n}/${as}`)

it('each picture stands with its file, how it is drawn, and what it was made into, byte for byte', async () => {
  expect((await t.call('GET', path)).body).toEqual({ newest: null })
  const newest = await look()
  expect(newest).toMatchObject({ underWay: false, failure: null, toLookAt: 8, similarity: 0.98 })
  // As each device draws them, once for all lenses of one.
  expect(newest.lenses).toEqual([
    { name: expect.stringContaining('Desk'), device: 'desk', ratio: 1, viewWidth: 1280 },
    { name: expect.stringContaining('Handset'), device: 'handset', ratio: 2, viewWidth: 390 },
  ])
  const of = (name: string) => newest.pictures.find(({ url }: { url: string }) => url.endsWith(name))
  expect(of('/large.jpg')).toMatchObject({
    isOwn: true,
    format: 'jpeg',
    bytes: files['/large.jpg']!.body.length,
    ...{ fileWidth: 1600, fileHeight: 1200, drawnWidth: 640, drawnHeight: 480, neededWidth: 640, neededHeight: 480 },
    drawnThrough: [
      expect.objectContaining({ through: 0, width: 320, height: 240 }),
      expect.objectContaining({ through: 1, width: 640, height: 480 }),
    ],
    ...{ where: 'in view', lazy: false, times: 1, why: null },
  })
  // Drawn cropped, it is needed as large as covers what it is drawn in.
  expect(of('/large.png')).toMatchObject({ neededWidth: 400, neededHeight: 300, where: 'in view' })
  expect(of('/below.jpg')).toMatchObject({ where: 'further down', lazy: true, neededWidth: 320 })
  // Nobody knows how large a picture is needed that is not shown.
  expect(of('/hidden.jpg')).toMatchObject({ where: 'not shown', drawnWidth: 0, neededWidth: 320 })
  // Written more shortly, it still draws the same.
  expect(of('/lines.svg')).toMatchObject({ format: 'svg', remade: [{ as: 'same' }], why: null })
  expect(of('/broken.jpg')).toMatchObject({ remade: [], why: expect.stringContaining('can be read') })
  expect(
    of('/large.jpg')
      .remade.map(({ as }: { as: string }) => as)
      .sort(),
  ).toEqual(['avif', 'same', 'webp'])
  // Where it was led to another address, it is the file that came.
  expect(of('/moved.jpg')).toMatchObject({ fileWidth: 64, drawnWidth: 60 })
  for (const [n, { url, remade, bytes }] of newest.pictures.entries()) {
    const was = await fetchFile(n, 'was')
    expect(
      Buffer.from(await was.arrayBuffer()).equals(files[new URL(url).pathname.replace('moved', 'small')]!.body),
    ).toBe(true)
    for (const made of remade) {
      expect(made.similarity).toBeGreaterThanOrEqual(0.98)
      expect(made.bytes).toBeLessThan(bytes)
      expect((await (await fetchFile(n, made.as)).arrayBuffer()).byteLength).toBe(made.bytes)
    }
  }
  // What a site sent runs nothing, even where somebody goes to it.
  const n = newest.pictures.findIndex(({ url }: { url: string }) => url.endsWith('.svg'))
  expect((await fetchFile(n, 'was')).headers.get('content-security-policy')).toContain('sandbox')
  expect((await fetchFile(99, 'was')).status).toBe(404)
})

it('more likeness costs more bytes, and only the newest look keeps its pictures', async () => {
  const rough = await look({ similarity: 0.9 })
  const fine = await look({ similarity: 0.995 })
  const webp = ({ pictures }: typeof fine) =>
    pictures
      .find(({ url }: { url: string }) => url.endsWith('/large.jpg'))
      .remade.find(({ as }: { as: string }) => as === 'webp').bytes
  expect(webp(fine)).toBeGreaterThan(webp(rough))
  const ids = new Set(
    (await PictureFileRow.findAll({ attributes: ['readingOnDemandId'] })).map((row) => row.readingOnDemandId),
  )
  expect([...ids]).toEqual([fine.id])
  expect((await t.call('POST', path, { similarity: 2 })).status).toBe(422)
})

it('the pictures of all pages are looked at by one press, stand once each, and can be stopped', async () => {
  const all = path.replace(/\/pages\/.*/, '/pictures')
  const begun = (await t.call('POST', all, { similarity: 0.95 })).body
  expect(begun).toMatchObject({ pages: 1, waiting: 1, similarity: 0.995 })
  expect((await t.call('POST', all, {})).status).toBe(409)
  expect((await t.call('DELETE', all)).body).toMatchObject({ waiting: 0, looked: 1 })
  await t.call('POST', all, { similarity: 0.95 })
  const [row] = await OnDemandRow.findAll({ order: [['id', 'desc']], limit: 1 })
  await runReadOnDemand(workerTools(db, { browsers }), { id: row!.id }, aHold)
  const site = (await t.call('GET', all)).body
  expect(site).toMatchObject({ pages: 1, looked: 1, waiting: 0, failed: [], byViews: false, similarity: 0.95 })
  // One address leads to the other, so that both give the same picture.
  expect(site.pictures).toHaveLength(7)
  const large = site.pictures.find((one: { picture: { url: string } }) => one.picture.url.endsWith('/large.jpg'))
  const spared = large.picture.bytes - large.picture.remade[0].bytes
  expect(large.spared).toBeCloseTo(1000 * spared)
  const file = await fetch(
    `${await t.app.getUrl()}/api${path}/files/${large.n}/${large.picture.remade[0].as}?look=${large.lookId}`,
  )
  expect((await file.arrayBuffer()).byteLength).toBe(large.picture.remade[0].bytes)
  expect(site.pictures.at(-1).spared).toBe(0)
})

it('a page that can’t be read says why, and nothing is left under way', async () => {
  site.closeAllConnections()
  await new Promise((resolve) => site.close(resolve))
  const newest = await look()
  expect(newest).toMatchObject({
    underWay: false,
    pictures: [],
    failure: expect.stringMatching(/refused|reached|closed|answers/),
  })
})

it('what is huge is refused before it is unpacked, and what moves is left as it is', async () => {
  // A picture of one colour is small as a file, however large.
  const huge = await sharp({
    create: { width: 9_000, height: 9_000, channels: 3, background: '#000' },
    limitInputPixels: false,
  })
    .png({ compressionLevel: 1 })
    .toBuffer()
  expect(await remakePicture(huge, { width: 10, height: 10 }, 0.98)).toMatchObject({
    remade: [],
    why: expect.any(String),
  })
  const frames = await sharp(
    await Promise.all(
      ['#f00', '#0f0'].map((background) =>
        sharp({ create: { width: 8, height: 8, channels: 3, background } })
          .png()
          .toBuffer(),
      ),
    ),
    { join: { animated: true } },
  )
    .webp({ loop: 0 })
    .toBuffer()
  expect((await remakePicture(frames, { width: 8, height: 8 }, 0.98)).why).toMatch(/moves/)
})
