import 'reflect-metadata'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import { couldWeigh } from '@unvelt/core'
import type { CodeType } from '@unvelt/contract'
import type { RequestType } from '@unvelt/core'
import { codeAmong } from '../src/worker/read-files.js'
import { weighFile } from '../src/file-look/weigh-file.js'
import { endThreads } from '../src/parse/parse-apart.js'

/** What scripts and styles could weigh, of whatever a site sends. */
const SCRIPT = Array.from(
  { length: 400 },
  (_, n) => `// Says what number ${n} is.\nfunction tellNumber${n}(numberToTell) {\n  return numberToTell + ${n}\n}\n`,
).join('')
const STYLE = 'h1{color:navy}a:hover{color:red}'.repeat(200)

let server: Server
let base: string
const answers: Record<string, { headers?: Record<string, string>; status?: number; body: string | Buffer }> = {
  '/plain.js': { body: SCRIPT, headers: { 'cache-control': 'max-age=60' } },
  '/packed.3f9c2a1b.css': { body: brotliCompressSync(STYLE), headers: { 'content-encoding': 'br' } },
  '/module.js': {
    body: gzipSync(`import '/plain.js'\nexport const theNumber = 3\nawait theNumber\n`),
    headers: { 'content-encoding': 'gzip' },
  },
  '/broken.js': { body: 'function ( { nobody understands this' },
  '/moved.js': { status: 302, body: '', headers: { location: '/plain.js' } },
  '/bomb.js': { body: gzipSync(Buffer.alloc(30e6)), headers: { 'content-encoding': 'gzip' } },
  '/liar.js': { body: 'not gzip', headers: { 'content-encoding': 'gzip' } },
  '/odd.js': { body: 'x', headers: { 'content-encoding': 'zstd' } },
  '/empty.css': { body: '' },
}
beforeAll(async () => {
  server = createServer((request, response) => {
    const { status = 200, headers = {}, body } = answers[request.url!]!
    response.writeHead(status, headers).end(body)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  base = `http://files.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  await endThreads()
  server?.closeAllConnections()
  server?.close()
})

const weigh = (path: string, type: CodeType = 'script') =>
  weighFile({ url: base + path, type, isOwn: true }, 'anywhere')

it('a script that comes as it was written could be packed and minified', async () => {
  const file = await weigh('/plain.js')
  expect(file).toMatchObject({ bytes: SCRIPT.length, encoding: '', plain: SCRIPT.length, keptSeconds: 60, why: null })
  // What others may call keeps its name, and what only it knows does not.
  expect(file.minified!.plain).toBeGreaterThan(400 * 'function tellNumber(n){return n}'.length)
  expect(file.minified!.plain).toBeLessThan(SCRIPT.length / 2)
  const { byPacking, byMinifying, bytes } = couldWeigh(file)
  expect(byPacking).toBeGreaterThan(SCRIPT.length / 2)
  expect(byMinifying).toBeGreaterThan(0)
  expect(bytes).toBe(Math.min(file.minified!.gzip, file.minified!.brotli))
})

it('what is packed and minified already has nothing to spare, and is weighed as it comes', async () => {
  const file = await weigh('/packed.3f9c2a1b.css', 'stylesheet')
  expect(file).toMatchObject({ bytes: brotliCompressSync(STYLE).length, encoding: 'br', plain: STYLE.length })
  expect(file).toMatchObject({ hasFingerprint: true, keptSeconds: null })
  expect(couldWeigh(file).byPacking).toBeLessThan(10)
  expect(await weigh('/module.js')).toMatchObject({ encoding: 'gzip', why: null })
})

it('whatever can’t be looked at says why, and takes nothing from the others', async () => {
  expect(await weigh('/broken.js')).toMatchObject({ minified: null, why: expect.stringContaining('not understood') })
  expect((await weigh('/broken.js')).bytes).toBeGreaterThan(0)
  expect(await weigh('/moved.js')).toMatchObject({ bytes: 0, why: expect.stringContaining('302') })
  expect((await weigh('/odd.js')).why).toContain('zstd')
  for (const path of ['/bomb.js', '/liar.js'])
    expect(await weigh(path)).toMatchObject({ bytes: 0, minified: null, why: expect.any(String) })
  expect(await weigh('/empty.css', 'stylesheet')).toMatchObject({ bytes: 0, plain: 0 })
  const away = await weighFile({ url: 'http://127.0.0.1:9/x.js', type: 'script', isOwn: false }, 'public')
  expect(away.why).toMatch(/this machine/)
})

it('scripts and styles of a page are taken as the browser tells them, each once, the heaviest first', () => {
  const asked = (url: string, type: RequestType, decodedBytes: number, status = 200) => ({
    url,
    type,
    decodedBytes,
    status,
    method: 'GET',
  })
  const found = codeAmong([
    asked('http://a.test/', 'document', 90),
    asked('http://a.test/small.js', 'script', 10),
    asked('http://a.test/large.css', 'style', 50),
    asked('http://a.test/large.css', 'style', 50),
    asked('http://a.test/gone.css', 'style', 70, 404),
    asked('data:text/css,a', 'style', 80),
    asked('http://a.test/one.woff2', 'font', 99),
  ])
  expect(found).toEqual([
    { url: 'http://a.test/large.css', type: 'stylesheet' },
    { url: 'http://a.test/small.js', type: 'script' },
  ])
})
