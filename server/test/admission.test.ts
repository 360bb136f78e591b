import { request } from 'node:http'
import fc from 'fast-check'
import { hostnameOf, isKnownHost } from '../src/admission/known-hosts.js'
import { ConfigError, readConfig } from '../src/config/config.js'
import { jsonDepth } from '../src/problem/body-depth.js'
import { appForTest } from './app-for-test.js'

/** Who may come in, and what is said to whoever may not. */
let t: Awaited<ReturnType<typeof appForTest>>
let base: URL
beforeAll(async () => {
  t = await appForTest()
  base = new URL(await t.app.getUrl())
})
afterAll(() => t?.stop())

/** With a `Host` of any sort, which fetch would not send. */
const ask = (path: string, headers: Record<string, string>, method = 'GET') =>
  new Promise<{ status: number; headers: Record<string, unknown>; body: string }>((resolve, reject) => {
    const asked = request({ host: '127.0.0.1', port: base.port, path, method, headers }, (response) => {
      let body = ''
      response.on('data', (chunk) => (body += chunk))
      response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, body }))
    })
    asked.on('error', reject)
    asked.end()
  })

describe('a host', () => {
  it.each([
    ['127.0.0.1:4600', '127.0.0.1'],
    ['LOCALHOST', 'localhost'],
    ['[::1]:4600', '[::1]'],
    ['unvelt.example.org.', 'unvelt.example.org.'],
  ])('%s is %s', (header, host) => expect(hostnameOf(header)).toBe(host))
  it.each([undefined, '', 'a b', 'x@127.0.0.1', '127.0.0.1/..', 'evil.test#127.0.0.1', 'a\\b', '[', ':80'])(
    '%s is none',
    (header) => expect(hostnameOf(header)).toBeNull(),
  )
  it('is known only where its name is listed as it stands', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 30 }), fc.constantFrom('', '.', ':', '@', '/', '#', '?'), (text, joint) => {
        for (const header of [`${text}${joint}127.0.0.1`, `127.0.0.1${joint}${text}`])
          if (isKnownHost(header, ['127.0.0.1'])) expect(new URL(`http://${header}`).hostname).toBe('127.0.0.1')
      }),
      { numRuns: 2_000 },
    )
  })
})

describe('a request for a host that is none of Unvelt’s', () => {
  it.each([
    ['/api/sites', 'GET'],
    ['/api/sites', 'POST'],
    ['/api/sites/1/events', 'GET'],
    ['/api/openapi.json', 'GET'],
    ['/metrics', 'GET'],
    ['/v1/traces', 'POST'],
    ['/', 'GET'],
  ])('%s %s is answered with 421 and nothing else', async (path, method) => {
    const { status, body, headers } = await ask(path, { host: `evil.test:${base.port}` }, method)
    expect([status, headers['content-type']]).toEqual([421, 'application/problem+json; charset=utf-8'])
    expect(JSON.parse(body).title).toContain('evil.test')
  })
  it('is answered for the loopback names, whatever port they are asked by', async () => {
    for (const host of ['localhost', 'localhost:1', '127.0.0.1', '[::1]:9'])
      expect((await ask('/api/sites', { host })).status).toBe(200)
  })
})

it('every answer is closed to frames, sniffing and other sites, and says nothing of what made it', async () => {
  const { headers } = await ask('/api/sites', { host: 'localhost' })
  expect(headers).toMatchObject({
    'x-content-type-options': 'nosniff',
    'referrer-policy': 'no-referrer',
    'cross-origin-resource-policy': 'same-origin',
    'cache-control': 'private, no-cache',
    'x-request-id': expect.stringMatching(/^[0-9a-f-]{36}$/),
  })
  expect(headers['content-security-policy']).toBe("default-src 'none';frame-ancestors 'none'")
  const place = await ask('/metrics', { host: 'localhost' })
  expect(place.headers['content-security-policy']).toContain("frame-ancestors 'none'")
  expect(place.headers['content-security-policy']).toMatch(/script-src 'self'(;|$)/)
  expect(place.headers['cross-origin-opener-policy']).toBe('same-origin')
  expect(headers['x-powered-by']).toBeUndefined()
})

it('an answer is sent anew only where it is another one, and what changes something is kept nowhere', async () => {
  const { headers } = await ask('/api/sites', { host: 'localhost' })
  const again = await ask('/api/sites', { host: 'localhost', 'if-none-match': headers.etag! })
  expect([again.status, again.body]).toEqual([304, ''])
  const refused = await ask('/api/sites', { host: 'localhost', 'content-type': 'application/json' }, 'POST')
  expect(refused.headers['cache-control']).toBe('no-store')
})

it.each([
  ['/api/sites/0x1', 404],
  ['/api/sites/-1', 404],
  ['/api/sites/1e3', 404],
  ['/api/sites/99999999999', 404],
  ['/api/sites/2147483648/ledger', 404],
  ['/api/sweeps/00000000000000000001', 404],
  ['/api/sites/%zz', 400],
  ['/api/nothing-here', 404],
  ['/api/sites/1/rules/take-back/1', 404],
])('%s is a problem of the caller’s: %d', async (path, status) => {
  const answer = await ask(path, { host: 'localhost' })
  expect([answer.status, answer.headers['content-type']]).toEqual([status, 'application/problem+json; charset=utf-8'])
  expect(JSON.parse(answer.body).title).toMatch(/^[A-Z]/)
})

it('a body that is nested without end, or that is none, is refused before anybody looks through it', async () => {
  const send = async (body: string) => {
    const response = await fetch(`${base.href}api/sites`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    })
    return { status: response.status, title: ((await response.json()) as { title: string }).title }
  }
  expect(await send('['.repeat(100_000))).toEqual({ status: 400, title: expect.stringContaining('64 levels') })
  expect(await send(`${'{"a":'.repeat(100_000)}1${'}'.repeat(100_000)}`)).toMatchObject({ status: 400 })
  expect(await send('{"address":')).toMatchObject({ status: 400 })
  expect(await send(`{"address":"${'x'.repeat(5_000_000)}"}`)).toMatchObject({ status: 413 })
  expect(await send('{"address":"\\u0000"}')).toMatchObject({ status: 422 })
})

it('depth is what is open at once, brackets in texts aside', () => {
  fc.assert(
    fc.property(fc.json(), (text) => {
      const depthOf = (value: unknown): number =>
        typeof value === 'object' && value !== null ? 1 + Math.max(0, ...Object.values(value).map(depthOf)) : 0
      expect(jsonDepth(Buffer.from(text))).toBe(depthOf(JSON.parse(text)))
    }),
  )
})

it('numbers in bodies that no column holds are refused with their place', async () => {
  const { body: site } = await t.call('POST', '/sites', {
    address: t.standin.address,
    connectorKey: 'test-key',
    local: true,
  })
  const { status, body } = await t.call('POST', `/sites/${site.id}/sweeps`, { pageIds: [99_999_999_999] })
  expect([status, body.errors[0].field]).toEqual([422, 'pageIds'])
})

it('what costs a good deal is done so often a minute and no more', async () => {
  const tries = []
  for (let n = 0; n < 62; n++) tries.push((await t.call('POST', '/sites', { address: 'ftp://x' })).status)
  expect(tries[0]).toBe(422)
  expect(tries.at(-1)).toBe(429)
})

describe('the configuration', () => {
  const good = { DATABASE_URL: 'postgres://u@127.0.0.1/x', UNVELT_SECRET: '5a'.repeat(32) }
  it('is read as a whole, and every fault is named', () => {
    const bad = {
      ...good,
      DATABASE_URL: 'mysql://x',
      UNVELT_PORT: '0x10',
      UNVELT_HOSTS: 'a.test:80, b',
      UNVELT_LOG: 'loud',
    }
    const error = (() => {
      try {
        return readConfig(bad)
      } catch (caught) {
        return caught
      }
    })()
    expect(error).toBeInstanceOf(ConfigError)
    expect((error as ConfigError).faults.map((fault) => fault.split(':')[0])).toEqual([
      'DATABASE_URL',
      'UNVELT_PORT',
      'UNVELT_HOSTS',
      'UNVELT_LOG',
    ])
  })
  it('answers for loopback, for the address that it listens on, and for what is listed', () => {
    expect(readConfig(good).hosts).toEqual(['localhost', '127.0.0.1', '[::1]'])
    const { hosts } = readConfig({ ...good, UNVELT_HOST: '10.1.2.3', UNVELT_HOSTS: 'Unvelt.Example.org, b.test' })
    expect(hosts.slice(3)).toEqual(['10.1.2.3', 'unvelt.example.org', 'b.test'])
    expect(readConfig({ ...good, UNVELT_HOST: '0.0.0.0' }).hosts).toHaveLength(3)
  })
})
