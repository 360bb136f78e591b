import 'reflect-metadata'
import { createServer, get, type Server } from 'node:http'
import { connect, type AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/measure/browser.js'
import { readPage } from '../src/measure/read-page.js'
import { GuardingProxy } from '../src/reach/guarding-proxy.js'
import { isPublic } from '../src/reach/reach.js'
import { siteFetch, whyUnreachable } from '../src/site/site-fetch.js'
import { appForTest, KEY } from './app-for-test.js'

/** A site on this machine, which nobody may be led to unless it is marked as local. */
let site: Server
let origin: string
let asked: string[] = []
beforeAll(async () => {
  site = createServer((request, response) => {
    asked.push(request.url!)
    response.setHeader('content-type', 'text/html')
    response.end('<!doctype html><title>Inside</title><p>Not for everybody.')
  })
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve))
  origin = `http://inside.localhost:${(site.address() as AddressInfo).port}`
})
beforeEach(() => void (asked = []))
afterAll(() => new Promise((resolve) => site.close(resolve)))

describe('an address', () => {
  it.each(['8.8.8.8', '93.184.216.34', '2606:4700::1111', '::ffff:8.8.8.8'])('%s is public', (address) =>
    expect(isPublic(address)).toBe(true),
  )
  it.each([
    ...['127.0.0.1', '127.9.9.9', '0.0.0.0', '10.0.0.1', '172.16.0.1', '172.31.255.255', '192.168.1.1'],
    ...['169.254.169.254', '100.64.0.1', '224.0.0.1', '255.255.255.255', '192.0.2.1', '::1', '::', 'fe80::1'],
    ...['fc00::1', 'fd12::1', 'ff02::1', '::ffff:127.0.0.1', '::ffff:10.0.0.1', '64:ff9b::7f00:1', 'not one'],
  ])('%s is closed', (address) => expect(isPublic(address)).toBe(false))
})

describe('the server’s own fetch', () => {
  const closed = async (url: string) => {
    const error: unknown = await siteFetch(url, { reach: 'public' }).catch((e: unknown) => e)
    return whyUnreachable(error, new URL(url).host)
  }

  it('goes nowhere closed: not by a name, not by a literal address however it is written', async () => {
    const { port } = new URL(origin)
    for (const host of [
      'inside.localhost',
      '127.0.0.1',
      '127.1',
      '0x7f000001',
      '2130706433',
      '[::1]',
      '[::ffff:7f00:1]',
    ])
      expect(await closed(`http://${host}:${port}/`)).toContain('is an address of this machine or of a private network')
    expect(asked).toEqual([])
  })

  it('goes anywhere for a local site', async () => {
    expect((await siteFetch(origin, { reach: 'anywhere' })).status).toBe(200)
  })
})

describe('the browser’s way out', () => {
  let proxy: GuardingProxy
  afterEach(() => proxy.stop())

  const through = (url: string) =>
    new Promise<number | string>((resolve) => {
      const { hostname, port } = new URL(proxy.address)
      get({ host: hostname, port, path: url, headers: { host: new URL(url).host } }, (response) => {
        response.resume()
        resolve(response.statusCode!)
      }).on('error', (error: NodeJS.ErrnoException) => resolve(error.code!))
    })
  const tunnelTo = (target: string) =>
    new Promise<string>((resolve) => {
      const { hostname, port } = new URL(proxy.address)
      const socket = connect({ host: hostname, port: Number(port) }, () =>
        socket.write(`CONNECT ${target} HTTP/1.1\r\nhost: ${target}\r\n\r\n`),
      )
      socket.once('data', (data) => {
        resolve(data.toString('latin1').split('\r\n')[0]!)
        socket.destroy()
      })
      socket.once('close', () => resolve('closed'))
    })

  it('passes on what is open', async () => {
    proxy = await GuardingProxy.start('anywhere')
    expect(await through(`${origin}/page`)).toBe(200)
    expect(await tunnelTo(new URL(origin).host)).toBe('HTTP/1.1 200 Connection Established')
    expect(asked).toEqual(['/page'])
  })

  it('refuses what is closed, plain or through a tunnel, and remembers it', async () => {
    proxy = await GuardingProxy.start('public')
    expect(await through(`${origin}/page`)).toBe('ECONNRESET')
    expect(await through(origin.replace('inside.localhost', '127.0.0.1'))).toBe('ECONNRESET')
    expect(await tunnelTo(new URL(origin).host)).toBe('closed')
    expect(await tunnelTo(`[::1]:${new URL(origin).port}`)).toBe('HTTP/1.1 403 Forbidden')
    expect(Object.fromEntries(proxy.refused)).toEqual({
      'inside.localhost': '127.0.0.1',
      '127.0.0.1': '127.0.0.1',
      '::1': '::1',
    })
    expect(asked).toEqual([])
  })
})

describe('the measuring browser', () => {
  let browser: Browser
  beforeAll(async () => void (browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')))
  afterAll(() => browser.close())

  it('is kept from loopback, and the reading says why', async () => {
    for (const url of [origin, origin.replace('inside.localhost', '127.0.0.1')])
      await expect(readPage(browser, { url, reach: 'public', lens: DEFAULT_LENS.settings })).rejects.toThrow(
        /is an address of this machine or of a private network \(127\.0\.0\.1\), and the site is not marked as local/,
      )
    expect(asked).toEqual([])
  }, 60_000)
})

it('a site on this machine is registered only when it is marked as local', async () => {
  const t = await appForTest()
  try {
    const site = { address: t.standin.address, connectorKey: KEY }
    const refused = await t.call('POST', '/sites', site)
    expect(refused.body.errors).toEqual([
      { field: 'local', message: expect.stringContaining('closed unless the site is marked as local') },
    ])
    const { body } = await t.call('POST', '/sites', { ...site, local: true })
    expect(body.local).toBe(true)
    expect((await t.call('PATCH', `/sites/${body.id}`, { local: false })).body.local).toBe(false)
    expect((await t.call('PATCH', `/sites/${body.id}`, { local: 'yes' })).status).toBe(422)
    const change = await t.call('PATCH', `/sites/${body.id}`, { leastDifference: 0.05 })
    expect(change.body).toMatchObject({ local: false, leastDifference: 0.05 })
    expect((await t.call('PATCH', `/sites/${body.id}`, { leastDifference: 5 })).status).toBe(422)
  } finally {
    await t.stop()
  }
}, 60_000)
