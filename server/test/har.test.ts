import 'reflect-metadata'
import { createHash } from 'node:crypto'
import { HarReader, toHar, type Reading } from '@unvelt/core'
import { reading, record } from '../../core/test/reading-arbitrary.js'
import { ledgerCells } from './ledger-cells.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let base: string
let site: number
let origin: string
beforeAll(async () => {
  t = await appForTest()
  base = (await t.app.getUrl()) + '/api'
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = body.id
  origin = t.standin.address
})
afterAll(() => t?.stop())

const send = async (body: BodyInit, type = 'application/har+json') => {
  const answer = await fetch(`${base}/sites/${site}/har`, {
    method: 'POST',
    headers: { 'content-type': type },
    body,
    ...({ duplex: 'half' } as object),
  })
  // Answers are asserted on, not typed.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  return { status: answer.status, body: (await answer.json()) as any }
}
const harOf = (...readings: Reading[]) => {
  const parts = readings.map((each, n) => toHar(each, `page ${n}`, new Date(1.7e12)))
  return JSON.stringify({
    log: { version: '1.2', pages: parts.map((p) => p.page), entries: parts.flatMap((p) => p.entries) },
  })
}
const loadOf = (path: string, bytes: number) => {
  const url = origin + path
  return reading(
    [
      record('page', { url, type: 'document', transferBytes: 500 }),
      record('slider', {
        url: `${origin}/add-ons/canopy-slider/canopy-slider.js`,
        transferBytes: bytes,
        initiator: { type: 'parser', url },
      }),
    ],
    { url, finalUrl: url },
  )
}
const sweeps = async () => (await t.call('GET', `/sites/${site}/sweeps`)).body as { id: number; purpose: string }[]

it('becomes a sweep of its own, charged like our own readings; the same page twice is two repeats', async () => {
  const { status, body } = await send(harOf(loadOf('/', 1000), loadOf('/', 3000), loadOf('/contact', 70)))
  expect({ status, body }).toMatchObject({ status: 201, body: { pages: 2, requests: 6, strange: [] } })
  const { body: ledger } = await t.call('GET', `/sites/${site}/ledger?sweep=${body.sweepId}`)
  expect(ledger.sweep).toMatchObject({ purpose: 'import', lens: 'from a HAR file', status: 'done', repeats: 2 })
  const slider = (await ledgerCells(t, `/sites/${site}`, ledger)).row('canopy-slider', 'transferBytes')
  // Of two repeats the lower one stands, as in any sweep.
  expect(slider.sort((a: number, b: number) => a - b)).toEqual([70, 1000])
})

it('goes out again as it came in, with who pays', async () => {
  const { body } = await send(harOf(loadOf('/', 1234)))
  const text = await (await fetch(`${base}/sweeps/${body.sweepId}/har`)).text()
  const file = JSON.parse(text) as { log: { entries: { _payer: string }[] } }
  expect(file.log.entries.map((entry) => entry._payer)).toEqual(['content', 'canopy-slider'])
  const reader = new HarReader()
  reader.push(new TextEncoder().encode(text))
  expect(reader.end()[0]!.requests.map((r) => r.transferBytes)).toEqual([500, 1234])
})

it.each([
  [
    'other sites only',
    () => harOf(reading([record('p', { type: 'document' })])),
    'None of the file’s pages is a page of',
  ],
  [
    'a broken entry',
    () => harOf(loadOf('/', 1)).replace('"status":200', '"status":"fine"'),
    'log.entries[0].response.status: expected a whole number',
  ],
  ['half a file', () => harOf(loadOf('/', 1)).slice(0, -20), 'ends in the middle'],
  ['words', () => 'not a file', 'not JSON'],
])('with %s is refused with the place, and nothing is kept', async (_, body, sentence) => {
  const before = await sweeps()
  const answer = await send(body())
  expect(answer.status).toBe(422)
  expect(answer.body.title).toContain(sentence)
  expect(await sweeps()).toEqual(before)
})

it('leaves pages of other sites out, and says which', async () => {
  const other = reading([record('p', { url: 'https://other.test/x', type: 'document' })], {
    url: 'https://other.test/x',
  })
  expect((await send(harOf(loadOf('/', 1), other))).body).toMatchObject({ pages: 1, strange: ['https://other.test/x'] })
})

it('is taken of its own type only', async () => expect((await send('{}', 'text/plain')).status).toBe(415))

it('of a hundred megabytes is read without being held', async () => {
  const [entry] = JSON.parse(harOf(loadOf('/', 1))).log.entries as object[]
  const text = createHash('sha512').update('x').digest('hex').repeat(8_000)
  const fat = JSON.stringify({ ...entry, _more: text })
  async function* file() {
    yield '{"log":{"pages":[],"entries":['
    for (let n = 0; n < 100; n++) yield (n ? ',' : '') + fat
    yield ']}}'
  }
  const before = process.memoryUsage().rss
  const encoder = new TextEncoder()
  const stream = ReadableStream.from(
    (async function* () {
      for await (const part of file()) yield encoder.encode(part)
    })(),
  )
  expect((await send(stream as unknown as BodyInit)).body).toMatchObject({ pages: 1, requests: 100 })
  expect(process.memoryUsage().rss - before).toBeLessThan(300e6)
})
