import { gzipSync } from 'node:zlib'
import { request } from 'node:http'
import type { AddressInfo } from 'node:net'
import protobuf from 'protobufjs'
import { Sequelize } from 'sequelize'
import { CONFIG } from '../src/config/config.module.js'
import type { Config } from '../src/config/config.js'
import { forgetOldTraces, spansOf } from '../src/trace/trace-store.js'
import { appForTest } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let token: string
let port: number
beforeAll(async () => {
  t = await appForTest()
  port = (t.app.getHttpServer().address() as AddressInfo).port
  token = t.app.get<Config>(CONFIG).tracesToken
})
afterAll(() => t?.stop())

const TRACE = 'a'.repeat(32)
const span = (n: number) => ({
  traceId: TRACE,
  spanId: String(n).padStart(16, '0'),
  name: `step ${n}`,
  startTimeUnixNano: '1796000000000000000',
  endTimeUnixNano: '1796000000005000000',
  attributes: [{ key: 'unvelt.addon', value: { stringValue: 'menu' } }],
})
const body = (...spans: object[]) => JSON.stringify({ resourceSpans: [{ scopeSpans: [{ spans }] }] })

function send(
  content: string | Buffer,
  headers: Record<string, string> = {},
): Promise<{ status: number; type: string }> {
  return new Promise((resolve, reject) => {
    request(
      {
        host: '127.0.0.1',
        port,
        method: 'POST',
        path: '/v1/traces',
        headers: { 'content-type': 'application/json', authorization: `Bearer ${token}`, ...headers },
      },
      (response) => {
        response.resume()
        response.on('end', () =>
          resolve({ status: response.statusCode!, type: response.headers['content-type'] ?? '' }),
        )
      },
    )
      .once('error', reject)
      .end(content)
  })
}
const stored = async () => (await spansOf(t.app.get(Sequelize), TRACE)).map(({ name }) => name).sort()

it('takes spans as JSON, pressed JSON and protobuf, each span once', async () => {
  expect((await send(body(span(1)))).status).toBe(200)
  expect((await send(body(span(1), span(2)))).status).toBe(200)
  expect((await send(gzipSync(body(span(3))), { 'content-encoding': 'gzip' })).status).toBe(200)
  const proto = protobuf
    .parse(
      'syntax="proto3"; message R { repeated A a = 1; } message A { repeated B b = 2; } message B { repeated S s = 2; } message S { bytes t = 1; bytes i = 2; string n = 5; fixed64 from = 7; fixed64 to = 9999; fixed64 end = 8; }',
    )
    .root.lookupType('R')
  const s = {
    t: Buffer.from(TRACE, 'hex'),
    i: Buffer.from('0000000000000004', 'hex'),
    n: 'step 4',
    from: 1e15,
    end: 2e15,
  }
  const binary = Buffer.from(proto.encode({ a: [{ b: [{ s: [s] }] }] }).finish())
  expect((await send(binary, { 'content-type': 'application/x-protobuf' })).status).toBe(200)
  expect(await stored()).toEqual(['step 1', 'step 2', 'step 3', 'step 4'])
})

it.each<[string, () => Promise<{ status: number; type: string }>, number]>([
  ['no token', () => send(body(span(9)), { authorization: '' }), 401],
  ['another token', () => send(body(span(9)), { authorization: 'Bearer other' }), 401],
  ['a malformed span', () => send(body({ ...span(9), traceId: 'x' })), 400],
  ['no JSON', () => send('{'), 400],
  ['no protobuf', () => send(Buffer.from([255, 255, 255]), { 'content-type': 'application/x-protobuf' }), 400],
  ['a body beyond all measure', () => send(gzipSync(Buffer.alloc(40e6, 32)), { 'content-encoding': 'gzip' }), 413],
])('refuses %s and stores nothing', async (_, sending, status) => {
  const before = await stored()
  const answer = await sending()
  expect(answer.status).toBe(status)
  expect(answer.type).toMatch(/application\/problem\+json/)
  expect(await stored()).toEqual(before)
})

describe('with the token of one site', () => {
  const hex = (site: number, rest: string) => site.toString(16).padStart(8, '0') + rest.repeat(24)
  const request = (traceId: string) => ({
    ...span(1),
    traceId,
    kind: 2,
    attributes: [
      { key: 'http.request.method', value: { stringValue: 'GET' } },
      { key: 'url.path', value: { stringValue: '/about' } },
    ],
  })
  const task = (traceId: string, site: string) => ({
    ...span(2),
    traceId,
    attributes: [
      { key: 'unvelt.task', value: { stringValue: 'tidy up' } },
      { key: 'unvelt.site', value: { stringValue: site } },
    ],
  })
  const tracesOf = async (site: number) =>
    ((await t.call('GET', `/sites/${site}/traces`)).body.slowest as { traceId: string }[]).map(({ traceId }) => traceId)
  let sites: { id: number; token: string }[]
  beforeAll(async () => {
    const sequelize = t.app.get(Sequelize)
    for (const name of ['one', 'other'])
      await sequelize.query(
        `insert into site (address, name, cms, local) values ('http://${name}.test', '${name}', '{"name":"","version":""}', true)`,
      )
    const listed = (await t.call('GET', '/sites')).body as { id: number }[]
    sites = []
    for (const { id } of listed) {
      const { body } = await t.call('GET', `/sites/${id}/traces/target`)
      expect(body).toEqual({ path: '/v1/traces', token: expect.stringMatching(/^\d+\.[0-9a-f]{64}$/), newestAt: null })
      sites.push({ id, token: body.token })
    }
    sites.sort((a, b) => a.id - b.id)
  })
  const sendAs = (token: string, ...spans: object[]) => send(body(...spans), { authorization: `Bearer ${token}` })

  it('that site alone is told of: its readings, and its tasks whatever address they name', async () => {
    const [one, other] = sites as [(typeof sites)[0], (typeof sites)[0]]
    const mine = hex(one.id, 'b')
    const notMine = hex(other.id, 'c')
    const byItself = 'f'.repeat(32)
    expect((await sendAs(one.token, request(mine), request(notMine), task(byItself, 'http://other.test'))).status).toBe(
      200,
    )
    expect((await tracesOf(one.id)).sort()).toEqual([mine, byItself].sort())
    expect(await tracesOf(other.id)).toEqual([])
    expect((await t.call('GET', `/sites/${one.id}/traces/target`)).body.newestAt).toEqual(expect.any(String))
  })

  it('made up, taken from another number or cut short, it is none', async () => {
    const [one, other] = sites as [(typeof sites)[0], (typeof sites)[0]]
    const forged = one.token.replace(/^\d+/, String(other.id))
    for (const wrong of [forged, one.token.slice(0, -1), `${one.token}0`, `0.${'a'.repeat(64)}`, '99999999999.x', '.'])
      expect((await sendAs(wrong, request(hex(other.id, 'd')))).status).toBe(401)
    expect(await tracesOf(other.id)).toEqual([])
    expect((await t.call('GET', '/sites/999/traces/target')).status).toBe(404)
  })
})

it('forgets what is older than sixty days, and nothing else', async () => {
  const sequelize = t.app.get(Sequelize)
  const before = await stored()
  await sequelize.query(
    `update trace_part set received_at = now() - interval '61 days' where id = (select min(id) from trace_part)`,
  )
  await forgetOldTraces(sequelize)
  const [[left]] = (await sequelize.query('select count(*)::int n from trace_part')) as unknown as [[{ n: number }]]
  expect(left!.n).toBeGreaterThan(0)
  expect((await stored()).length).toBeLessThanOrEqual(before.length)
  const [[old]] = (await sequelize.query(
    `select count(*)::int n from trace_part where received_at < now() - interval '60 days'`,
  )) as unknown as [[{ n: number }]]
  expect(old!.n).toBe(0)
})
