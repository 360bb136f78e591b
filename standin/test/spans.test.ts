import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { measuring, standinForTest } from './standin-client.js'

interface Span {
  traceId: string
  spanId: string
  parentSpanId?: string
  name: string
  attributes: { key: string; value: Record<string, unknown> }[]
}

let receiver: Server
let site: Awaited<ReturnType<typeof standinForTest>>
const received: Span[] = []
const authorizations = new Set<string | undefined>()
let arrived: () => void = () => {}

beforeAll(async () => {
  receiver = createServer((request, response) => {
    const chunks: Buffer[] = []
    request.on('data', (chunk: Buffer) => chunks.push(chunk))
    request.on('end', () => {
      authorizations.add(request.headers.authorization)
      const body = JSON.parse(Buffer.concat(chunks).toString()) as {
        resourceSpans: { scopeSpans: { spans: Span[] }[] }[]
      }
      received.push(...body.resourceSpans.flatMap((r) => r.scopeSpans.flatMap((s) => s.spans)))
      response.writeHead(200, { 'content-type': 'application/json' }).end('{}')
      arrived()
    })
  })
  await new Promise<void>((resolve) => receiver.listen(0, '127.0.0.1', resolve))
  const { port } = receiver.address() as AddressInfo
  site = await standinForTest({ spans: { endpoint: `http://127.0.0.1:${port}/v1/traces`, token: 'trace-token' } })
})
afterAll(async () => {
  await site?.stop()
  await new Promise((resolve) => receiver.close(resolve))
})

const TRACE = '0af7651916cd43dd8448eb211c80319c'
const root = () => received.find((span) => span.name === 'GET /about')
const attribute = (span: Span, key: string) => Object.values(span.attributes.find((a) => a.key === key)?.value ?? {})[0]

it('spans of a measuring request come with its trace, one for each step and query, and none for a visitor', async () => {
  await site.get('/contact', { traceparent: `00-${'1'.repeat(32)}-b7ad6b7169203331-01` })
  await site.get('/about', { ...measuring('/about'), traceparent: `00-${TRACE}-b7ad6b7169203331-01` })
  while (!root()) await new Promise<void>((resolve) => (arrived = resolve))
  expect(authorizations).toEqual(new Set(['Bearer trace-token']))
  expect(new Set(received.map((span) => span.traceId))).toEqual(new Set([TRACE]))
  expect(root()!.parentSpanId).toBe('b7ad6b7169203331')
  expect(Number(attribute(root()!, 'unvelt.memory.peak_bytes'))).toBeGreaterThan(1e6)
  const menu = received.filter((span) => attribute(span, 'unvelt.addon') === 'bramble-menu')
  const queries = menu.filter((span) => attribute(span, 'db.system.name') === 'postgresql')
  expect(queries).toHaveLength(200)
  expect(attribute(queries[0]!, 'db.query.text')).toBe('select parent from bramble_entries where id = $1')
  const byId = new Map(received.map((span) => [span.spanId, span]))
  for (const query of queries) expect(attribute(byId.get(query.parentSpanId!)!, 'unvelt.addon')).toBe('bramble-menu')
})

it('work outside any page load comes as a trace of its own, and names the site', async () => {
  await site.standin.runTasks()
  const task = () => received.find((span) => attribute(span, 'unvelt.task') === 'warden_round')
  while (!task()) await new Promise<void>((resolve) => (arrived = resolve))
  expect(task()!.parentSpanId ?? '').toBe('')
  expect(attribute(task()!, 'unvelt.site')).toBe(site.standin.address)
  expect(attribute(task()!, 'unvelt.addon')).toBe('link-warden')
  const below = received.filter(({ traceId }) => traceId === task()!.traceId)
  expect(below.map((span) => attribute(span, 'db.query.text')).filter(Boolean)).toEqual([
    'update warden_links set state = 200 + (state + 7) % 300 where target like $1',
  ])
})
