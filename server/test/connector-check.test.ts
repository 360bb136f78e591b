import 'reflect-metadata'
import { createServer, request, type IncomingMessage, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { startStandin, type Standin } from '@unvelt/standin'
import { standinDatabase } from '../../testing/standin-database.js'
import { checkConnector } from '../src/connector-check/check-connector.js'

let standin: Standin
let database: Awaited<ReturnType<typeof standinDatabase>>
beforeAll(async () => {
  database = await standinDatabase()
  standin = await startStandin({ port: 0, databaseUrl: database.url, connectorKey: 'k' })
})
afterAll(async () => {
  await standin?.stop()
  await database?.drop()
})

it('the stand-in keeps to the protocol, reading and writing', async () => {
  const results = await checkConnector(standin.address, 'k', true)
  expect(results.filter(({ state }) => state !== 'passed')).toEqual([])
  expect(results.length).toBeGreaterThanOrEqual(18)
})

/** The stand-in with one answer spoilt on its way. */
async function spoilt(path: RegExp, spoil: (text: string, response: ServerResponse) => string) {
  const proxy = createServer((incoming: IncomingMessage, response) => {
    const sent = request(
      {
        host: '127.0.0.1',
        port: standin.port,
        method: incoming.method,
        path: incoming.url,
        // A line that is kept may be one that the site has just closed.
        agent: false,
        headers: { ...incoming.headers, host: `fernhollow.localhost:${standin.port}` },
      },
      (answer) => {
        const chunks: Buffer[] = []
        answer.on('data', (chunk: Buffer) => chunks.push(chunk))
        answer.on('end', () => {
          response.statusCode = answer.statusCode!
          for (const [name, value] of Object.entries(answer.headers))
            if (value !== undefined && !['content-length', 'content-encoding', 'transfer-encoding'].includes(name))
              response.setHeader(name, value)
          const body = Buffer.concat(chunks)
          response.end(path.test(incoming.url!) ? spoil(body.toString(), response) : body)
        })
      },
    )
    sent.on('error', () => response.destroy())
    incoming.pipe(sent)
  })
  await new Promise<void>((resolve) => proxy.listen(0, '127.0.0.1', resolve))
  const { port } = proxy.address() as AddressInfo
  return { address: `http://127.0.0.1:${port}`, close: () => new Promise((resolve) => proxy.close(resolve)) }
}

it.each<[string, RegExp, (text: string, response: ServerResponse) => string, RegExp]>([
  ['an add-on twice', /inventory/, (text) => text.replace('"slug":"hollow"', '"slug":"rootlib"'), /a slug comes twice/],
  [
    'a page of no known area',
    /pages/,
    (text) => text.replace('"area":"public"', '"area":"attic"'),
    /pages\.schema\.json at \/pages\/0\/area/,
  ],
  ['no version of its rules', /rules$/, (text, response) => (response.removeHeader('etag'), text), /ETag is missing/],
  [
    'a file that nobody serves',
    /assets/,
    (text) => text.replace('"/generated/hollow.css"', '"/generated/nothing.css"'),
    /answers 404/,
  ],
  ['no JSON', /inventory/, () => '<html>', /not JSON/],
  [
    'its timing to visitors',
    /^\/$/,
    (text, response) => (response.setHeader('server-timing', 'total;dur=1'), text),
    /a visitor is sent server-timing/,
  ],
])(
  'says what is wrong with a connector that gives %s',
  async (_, path, spoil, why) => {
    const { address, close } = await spoilt(path, spoil)
    const results = await checkConnector(address, 'k', false)
    await close()
    expect(
      results
        .filter(({ state }) => state === 'failed')
        .map((result) => result.why)
        .join('\n'),
    ).toMatch(why)
  },
  300_000,
)

it('tries nothing more where nobody answers', async () => {
  const results = await checkConnector('http://127.0.0.1:9', 'k', true)
  expect(results).toHaveLength(1)
  expect(results[0]).toMatchObject({ state: 'failed' })
})
