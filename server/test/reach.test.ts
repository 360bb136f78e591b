import 'reflect-metadata'
import { createServer, type Server } from 'node:http'
import { connect, type AddressInfo } from 'node:net'
import type { Browser } from 'playwright-core'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { readPage } from '../src/browser/read-page.js'
import { WayOut } from '../src/reach/way-out.js'
import { isPublic } from '../src/reach/reach.js'
import { siteFetch, whyUnreachable } from '../src/site-http/site-fetch.js'
import { appForTest, KEY } from './app-for-test.js'

/** A site on this machine, which nobody may be led to unless it is marked as local. */
let site: Server
let origin: string
let asked: string[] = []
beforeAll(async () => {
  site = createServer((request, response) => {
    asked.push(request.url!)
    response.setHeader('content-type', 'text/html')
    response.end(
      `<!doctype html><title>Inside</title><p>Not for everybody.${'.'.repeat(request.url === '/large' ? 50_000 : 0)}`,
    )
  })
  await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve))
  origin = `http://inside.localhost:${(site.address() as AddressInfo).port}`
})
const sitePorts = () => [Number(new URL(origin).port)]
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
    ...['::127.0.0.1', '::7f00:1', '::ffff:0:127.0.0.1', '2002:7f00:1::', '2001:0:7f00:1::', '64:ff9b:1::7f00:1'],
    ...['2606:4700::5efe:127.0.0.1', '::10.0.0.1'],
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
      '[::127.0.0.1]',
    ])
      expect(await closed(`http://${host}:${port}/`)).toContain('is an address of this machine or of a private network')
    expect(asked).toEqual([])
  })

  it('goes anywhere for a local site', async () => {
    expect((await siteFetch(origin, { reach: 'anywhere' })).status).toBe(200)
  })
})

describe('the browser’s way out', () => {
  let way: WayOut
  afterEach(() => way.stop())

  /** What the way answers to a wish, and the first line of what comes through it. */
  const through = (host: string, { kind = 3, path = '/page' } = {}) =>
    new Promise<[code: number | null, line: string]>((resolve) => {
      const { hostname, port } = new URL(way.address)
      const socket = connect({ host: hostname, port: Number(port) }, () => socket.write(Buffer.from([5, 1, 0])))
      const name = kind === 3 ? Buffer.concat([Buffer.from([host.length]), Buffer.from(host)]) : ADDRESSES[host]!
      const to = Number(new URL(origin).port)
      let answer = Buffer.alloc(0)
      let asked = false
      socket.on('data', (data: Buffer) => {
        answer = Buffer.concat([answer, data])
        if (answer.length === 2)
          socket.write(Buffer.concat([Buffer.from([5, 1, 0, kind]), name, Buffer.from([to >> 8, to & 255])]))
        if (answer.length === 12 && !asked) {
          asked = true
          socket.write(`GET ${path} HTTP/1.1\r\nhost: ${host}\r\nconnection: close\r\n\r\n`)
        }
      })
      socket.on('close', () =>
        resolve([answer.length < 12 ? null : answer[3]!, answer.subarray(12).toString('latin1').split('\r\n')[0]!]),
      )
      socket.on('error', () => {})
    })
  const ADDRESSES: Record<string, Buffer> = {
    '127.0.0.1': Buffer.from([127, 0, 0, 1]),
    '::1': Buffer.from([...Array<number>(15).fill(0), 1]),
  }

  it('hands on what is open, as it is', async () => {
    way = await WayOut.start('anywhere', null, sitePorts())
    expect(await through('inside.localhost')).toEqual([0, 'HTTP/1.1 200 OK'])
    expect(await through('127.0.0.1', { kind: 1 })).toEqual([0, 'HTTP/1.1 200 OK'])
    expect(asked).toEqual(['/page', '/page'])
  })

  it('refuses what is closed, by a name or by an address of any kind, and remembers it', async () => {
    way = await WayOut.start('public', null, sitePorts())
    expect(await through('inside.localhost')).toEqual([2, ''])
    expect(await through('127.0.0.1')).toEqual([2, ''])
    expect(await through('127.0.0.1', { kind: 1 })).toEqual([2, ''])
    expect(await through('::1', { kind: 4 })).toEqual([2, ''])
    expect(Object.fromEntries([...way.refused].map(([at, { address }]) => [at, address]))).toEqual({
      'inside.localhost': '127.0.0.1',
      '127.0.0.1': '127.0.0.1',
      '0:0:0:0:0:0:0:1': '0:0:0:0:0:0:0:1',
    })
    expect(asked).toEqual([])
  })

  it('hands nothing on to another port of this machine, local site or not, by whatever name or address', async () => {
    for (const reach of ['anywhere', 'public'] as const) {
      way = await WayOut.start(reach, null, [1])
      for (const [host, kind] of [
        ['inside.localhost', 3],
        ['127.0.0.1', 3],
        ['0.0.0.0', 3],
        ['127.0.0.1', 1],
        ['::1', 4],
      ] as const)
        expect(await through(host, { kind })).toEqual([2, ''])
      if (reach === 'anywhere') await way.stop()
    }
    expect(asked).toEqual([])
  })

  it('hangs up on what speaks otherwise, and stands that', async () => {
    way = await WayOut.start('anywhere', null, sitePorts())
    for (const nonsense of [
      Buffer.from('GET / HTTP/1.1\r\n\r\n'),
      Buffer.from([5, 1, 0, 5, 9, 0, 1, 0, 0]),
      Buffer.alloc(900, 5),
    ]) {
      const { hostname, port } = new URL(way.address)
      const socket = connect({ host: hostname, port: Number(port) }, () => socket.write(nonsense))
      socket.on('error', () => {})
      socket.resume()
      await new Promise((resolve) => socket.once('close', resolve))
    }
    expect(await through('inside.localhost')).toEqual([0, 'HTTP/1.1 200 OK'])
  })

  it('is as slow as it is said to be: a round trip to connect, one to ask, and the bytes at their rate', async () => {
    way = await WayOut.start('anywhere', { latencyMs: 200, downKbps: 800, upKbps: 800 }, sitePorts())
    const began = performance.now()
    expect(await through('inside.localhost', { path: '/large' })).toEqual([0, 'HTTP/1.1 200 OK'])
    const took = performance.now() - began
    // Two round trips, and 50 KB at 100 bytes a ms.
    expect(took).toBeGreaterThan(850)
    way.hurry()
    const again = performance.now()
    await through('inside.localhost', { path: '/large' })
    expect(performance.now() - again).toBeLessThan(took / 2)
  })

  it('says of what can’t be reached what a browser would say', async () => {
    way = await WayOut.start('anywhere', null, sitePorts())
    await new Promise((resolve) => site.close(resolve))
    try {
      expect(await through('inside.localhost')).toEqual([5, ''])
      expect(Object.fromEntries(way.failed)).toEqual({ 'inside.localhost': 'net::ERR_CONNECTION_REFUSED' })
    } finally {
      await new Promise<void>((resolve) => site.listen(Number(new URL(origin).port), '127.0.0.1', resolve))
    }
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
  })
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
})
