import 'reflect-metadata'
import { request as httpRequest } from 'node:http'
import { PreviewService } from '../src/preview/preview.service.js'
import { previewLabel, readPreviewHost } from '../src/preview/preview-address.js'
import { plainSite } from '../../testing/plain-site.js'
import { appForTest, KEY } from './app-for-test.js'

/** Previews of the stand-in, with its connector and without. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let plain: string
let other: Awaited<ReturnType<typeof plainSite>>
beforeAll(async () => {
  t = await appForTest()
  await t.app.get(PreviewService).listen()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  other = await plainSite()
  const outside = await t.call('POST', '/sites', { address: other.address, withoutConnector: true, local: true })
  plain = `/sites/${outside.body.id}`
})
afterAll(async () => {
  await t?.stop()
  await other?.stop()
})
afterEach(async () => {
  await t.call('DELETE', `${site}/drafts`)
})

interface Got {
  status: number
  body: string
}
/** Asks as a browser does, for which every name below localhost is this machine. */
function get(origin: string, path: string, { method = 'GET', body = '', ...headers }: Record<string, string> = {}): Promise<Got> {
  const { host, port } = new URL(origin)
  return new Promise((resolve, reject) => {
    const request = httpRequest(
      { host: '127.0.0.1', port, path, method, headers: { host, accept: 'text/html', ...headers } },
      (answer) => {
        let text = ''
        answer.setEncoding('utf8')
        answer.on('data', (piece: string) => (text += piece))
        answer.on('end', () => resolve({ status: answer.statusCode!, body: text }))
      },
    )
    request.on('error', reject)
    request.end(body)
  })
} // prettier-ignore
const draft = (on: string, addon: string, effect = 'leave-out') =>
  t.call('POST', `${on}/drafts`, { rules: [{ addon, effect, place: { level: 'everywhere' } }] })
const open = async (on: string) => (await t.call('POST', `${on}/previews`, {}, { origin: await t.app.getUrl() })).body

it('shows a page under the drafts, each of which can be left out of it, and no visitor sees any', async () => {
  await draft(site, 'ribbon-share')
  await draft(site, 'canopy-slider')
  const preview = await open(site)
  expect(preview).toMatchObject({ mechanism: 'site', off: [], device: 'desk', path: null })
  const page = await get(preview.address, '/')
  expect(page.status).toBe(200)
  expect(page.body).not.toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')
  expect(page.body).not.toMatch('"/add-ons/canopy-slider/canopy-slider.js"></')
  expect((await get(t.standin.address, '/')).body).toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')

  const { body: drafts } = await t.call('GET', `${site}/drafts`)
  const ofSlider = drafts.rules.find(({ addon }: { addon: string }) => addon === 'canopy-slider').id
  const changed = await t.call('PATCH', `/previews/${preview.id}`, { off: [ofSlider] })
  expect(changed.body).toMatchObject({ off: [ofSlider], path: '/', status: 200 })
  const again = await get(preview.address, '/')
  expect(again.body).not.toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')
  expect(again.body).toMatch('"/add-ons/canopy-slider/canopy-slider.js"></')

  // What is drafted meanwhile is tried as well.
  await t.call('DELETE', `${site}/drafts`)
  await t.call('PATCH', `/previews/${preview.id}`, {})
  expect((await get(preview.address, '/')).body).toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')
})

it('is for sites without a connector as well, by the rewriter', async () => {
  const preview = await open(plain)
  const before = await get(preview.address, '/')
  const [script] = /\/[\w/.-]+\/[\w.-]+\.js/.exec(before.body)!
  const [folder] = /^(?:\/[^/]+){2}\//.exec(script!)!
  await draft(plain, `own:${folder}`)
  const { body: now } = await t.call('GET', `${plain}/drafts`)
  expect(now.rules).toHaveLength(1)
  await t.call('PATCH', `/previews/${preview.id}`, {})
  const after = await get(preview.address, '/')
  expect(preview.mechanism).toBe('rewriter')
  expect(before.body).toMatch(`src="${script}"`)
  expect(after.body).not.toMatch(`src="${script}"`)
  await t.call('DELETE', `${plain}/drafts`)
})

it('keeps links to the site inside, and its sent forms arrive', async () => {
  const preview = await open(site)
  const page = await get(preview.address, '/contact')
  expect(page.body).not.toMatch(`href="${t.standin.address}`)
  const sent = await get(preview.address, '/presence', {
    method: 'POST',
    'content-type': 'application/x-www-form-urlencoded',
    body: 'a=1',
  })
  expect(sent.status).toBe(204)
})

it('that was tampered with, ran out or was closed shows nothing, and says so', async () => {
  const preview = await open(site)
  const { hostname, port } = new URL(preview.address)
  const [, label] = hostname.split('.') as [string, string]
  const last = label.at(-1)
  const forged = `http://page.${label.slice(0, -1)}${last === 'a' ? 'b' : 'a'}.localhost:${port}`
  expect(await get(forged, '/')).toMatchObject({ status: 404, body: expect.stringMatching('No preview has this address') })
  expect((await get(`http://localhost:${port}`, '/')).status).toBe(404)
  const secret = Buffer.from('5a'.repeat(32), 'hex')
  const over = `http://page.${previewLabel(preview.id, Date.now() - 1000, secret)}.localhost:${port}`
  expect(await get(over, '/')).toMatchObject({ status: 410, body: expect.stringMatching('has run out') })
  const unknown = `http://page.${previewLabel('0123456789', Date.now() + 60_000, secret)}.localhost:${port}`
  expect((await get(unknown, '/')).status).toBe(410)
  const deleted = await fetch(`${await t.app.getUrl()}/api/previews/${preview.id}`, { method: 'DELETE' })
  expect(deleted.status).toBe(204)
  expect((await get(preview.address, '/')).status).toBe(410)
  expect((await t.call('GET', `/previews/${preview.id}`)).status).toBe(404)
}) // prettier-ignore

it('has a window that is given what it needs of Unvelt and no more, and only by itself', async () => {
  const preview = await open(site)
  const cookie = `unvelt-window=${preview.windowKey}`
  const asWindow = (path: string, headers: Record<string, string> = {}) =>
    get(preview.window, path, { cookie, ...headers })
  expect((await get(preview.window, `/api/previews/${preview.id}`)).status).toBe(403)
  expect((await get(preview.window, `/api/previews/${preview.id}`, { cookie: 'unvelt-window=x' })).status).toBe(403)
  expect((await t.call('GET', `/previews/${preview.id}`)).body.windowKey).toBeUndefined()
  expect(JSON.parse((await asWindow(`/api/previews/${preview.id}`)).body)).toMatchObject({ id: preview.id })
  expect((await asWindow(`/api${site}/drafts`)).status).toBe(200)
  for (const path of [`/api${site}/rules`, `/api${plain}/drafts`, '/api/previews/0123456789', '/', '/api/openapi.json'])
    expect((await asWindow(path)).status).toBe(404)
  const change = {
    method: 'PATCH',
    'content-type': 'application/json',
    body: JSON.stringify({ device: 'handset' }),
  }
  const path = `/api/previews/${preview.id}`
  expect((await asWindow(path, { ...change, origin: preview.address })).status).toBe(403)
  expect((await asWindow(path, { 'sec-fetch-site': 'same-site' })).status).toBe(403)
  expect((await asWindow(path, { ...change, origin: preview.window })).status).toBe(200)
  expect((await t.call('GET', `/previews/${preview.id}`)).body.device).toBe('handset')
})

it('sees the page as the chosen visit does', async () => {
  await t.call('POST', `${site}/drafts`, {
    rules: [
      { addon: 'ribbon-share', effect: 'leave-out', place: { level: 'everywhere' }, condition: { device: 'handset' } },
    ],
  })
  const preview = await open(site)
  expect((await get(preview.address, '/')).body).toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')
  await t.call('PATCH', `/previews/${preview.id}`, { device: 'handset' })
  expect((await get(preview.address, '/')).body).not.toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')
})

it('goes on when the site has forgotten the drafts', async () => {
  await draft(site, 'ribbon-share')
  const preview = await open(site)
  await get(preview.address, '/')
  // It keeps no more than twenty.
  for (let n = 0; n < 20; n++)
    await fetch(`${t.standin.address.replace('fernhollow.localhost', '127.0.0.1')}/unvelt/v1/drafts`, {
      method: 'POST',
      headers: { authorization: `Bearer ${KEY}`, 'content-type': 'application/json' },
      body: JSON.stringify({ format: 'unvelt-rules/1', rules: [] }),
    })
  const page = await get(preview.address, '/')
  expect(page.status).toBe(200)
  expect(page.body).not.toMatch('"/add-ons/ribbon-share/ribbon-share.js"></')
})

it('an address is read back whole, in any letters', () => {
  const secret = Buffer.alloc(32, 1)
  const label = previewLabel('abcdefghij', 1_800_000_000_000, secret)
  expect(label.length).toBeLessThan(64)
  expect(readPreviewHost(`PAGE.${label.toUpperCase()}.localhost:80`, secret, 0)).toEqual({ id: 'abcdefghij', part: 'page' })
  expect(readPreviewHost(`${label}.localhost`, secret, 1_800_000_000_001)).toBe('over')
  expect(readPreviewHost(`${label}.localhost`, Buffer.alloc(32, 2), 0)).toBe('unknown')
}) // prettier-ignore
