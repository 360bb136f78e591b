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
