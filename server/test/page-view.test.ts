import 'reflect-metadata'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let site: string
beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(() => t?.stop())

const send = async (type: string, text: string) => {
  const answer = await fetch(`${await t.app.getUrl()}/api${site}/page-views`, {
    method: 'POST',
    headers: { 'content-type': type },
    body: text,
  })
  // Answers are asserted on, not typed.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  return { status: answer.status, body: (await answer.json()) as any }
}
const views = async (): Promise<Record<string, number | null>> =>
  Object.fromEntries(
    (await t.call('GET', `${site}/pages`)).body.map((p: { path: string; views: number }) => [p.path, p.views]),
  )

it('a log of the site’s own is taken in: visitors counted, bots and bad lines told', async () => {
  const line = (path: string, agent: string) =>
    `198.51.100.7 - - [25/Nov/2026:10:00:00 +0000] "GET ${path} HTTP/1.1" 200 512 "-" "${agent}"`
  const text = [
    ...Array<string>(7).fill(line('/contact', 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Safari/537.36')),
    line('/contact', 'Trawler/1.0 (+https://trawler.test/bot)'),
    line('/add-ons/x.js', 'Mozilla/5.0'),
    'half a line',
  ].join('\n')
  const { status, body } = await send('text/plain', text)
  expect({ status, body }).toMatchObject({
    status: 200,
    body: { lines: 10, views: 7, bots: 1, passedOver: 1, bad: 1, badLines: [{ line: 10 }] },
  })
  expect(await views()).toMatchObject({ '/contact': 7, '/': 0 })
})

it('a table stands against it, in any order of columns', async () => {
  const { body } = await send(
    'text/csv',
    '\ufeffViews,Title,Path\r\n120,"Home, sweet",/\r\n30,Contact,/contact\r\n5,Else,/nowhere\r\n',
  )
  expect(body).toMatchObject({ lines: 3, views: 150, pages: 2, strange: ['/nowhere'] })
  expect(await views()).toMatchObject({ '/': 120, '/contact': 30, '/about': 0 })
})

it.each([
  [
    'text/csv',
    'path,views\n/,12\n/contact,many\n',
    'Line 3, column views: expected a whole number of at most nine digits, got “many”',
  ],
  ['text/csv', 'path,views\n/,12\n/contact,4000000000\n', 'Line 3, column views'],
  ['text/csv', 'page,hits\n/,12\n', 'expected the columns path and views'],
  ['text/csv', 'path,views\n/nowhere,1\n', 'names no page of the site'],
  ['text/csv', 'path,views\n"/,1\n', 'can’t be read'],
  ['text/plain', 'not a log\nat all\n', 'Line 1 is not in combined log format'],
  ['text/plain', '', 'The log is empty'],
])('%s %j is refused with the place, and nothing is kept', async (type, text, sentence) => {
  const before = await views()
  const { status, body } = await send(type, text)
  expect(status).toBe(422)
  expect(body.title).toContain(sentence)
  expect(await views()).toEqual(before)
})

it('what a sweep would read is told before it begins, lens by lens', async () => {
  const preview = async (request: object) => (await t.call('POST', `${site}/sweeps/preview`, request)).body
  const [{ id: lensId }] = (await t.call('GET', `${site}/lenses`)).body
  expect(await preview({})).toEqual([{ lensId, pages: 8, of: 8, share: 1, secondsEach: null }])
  const sample = { mostVisited: 1, drawn: 0, seed: 1 }
  const [{ share, pages }] = await preview({ sample, lensIds: [lensId] })
  expect([pages, share]).toEqual([2, expect.closeTo(0.8, 5)])
  const listed = (await t.call('GET', `${site}/pages`)).body as { id: number; path: string }[]
  const [contact] = listed.filter(({ path }) => path === '/contact')
  expect(await preview({ pageIds: [contact!.id] })).toEqual([
    { lensId, pages: 1, of: 8, share: expect.closeTo(0.2, 5), secondsEach: null },
  ])
  expect(await preview({ kinds: ['no such kind'] })).toEqual([{ lensId, pages: 0, of: 8, share: 0, secondsEach: null }])
  expect((await t.call('POST', `${site}/sweeps/preview`, { lensIds: [999_999] })).status).toBe(422)
})

it('the pages of the site’s sitemap are told, with what it lists besides', async () => {
  const { body } = await t.call('GET', `${site}/sitemap`)
  expect(body).toMatchObject({ listed: 9, unknown: ['/events/spring-fair'], unknownCount: 1 })
  expect(body.pageIds).toHaveLength(8)
})

it('a sweep of a sample says how much of the visits it covers', async () => {
  await send('text/csv', 'path,views\n/,60\n/contact,30\n/about,10\n')
  const sample = { mostVisited: 1, drawn: 0, seed: 1 }
  const { body } = await t.call('POST', `${site}/sweeps`, { repeats: 1, sample })
  expect(body.sample).toMatchObject({ of: 8, seed: 1 })
  expect(body.pages).toBeLessThan(8)
  expect(body.sample.share).toBeGreaterThanOrEqual(0.6)
  await t.call('POST', `/sweeps/${body.id}/cancel`)
  const kinds = await t.call('POST', `${site}/sweeps`, { repeats: 1, kinds: ['event'] })
  expect(kinds.body.pages).toBeGreaterThan(0)
  await t.call('POST', `/sweeps/${kinds.body.id}/cancel`)
  expect((await t.call('POST', `${site}/sweeps`, { kinds: ['none such'] })).status).toBe(422)
})

it('a sweep with all rules set aside says so, and its figures are shown only when asked for', async () => {
  const { body } = await t.call('POST', `${site}/sweeps`, { repeats: 1, withoutRules: true })
  expect(body.withoutRules).toBe(true)
  const row = (await SweepRow.findByPk(body.id))!
  expect(row.variants).toEqual([{ name: 'live', rules: 0 }])
  await t.call('POST', `/sweeps/${body.id}/cancel`)
})

it('a sweep through two lenses is two sweeps, the first of which is read first', async () => {
  const lenses = (await t.call('GET', `${site}/lenses`)).body as { id: number }[]
  const lensIds = lenses.slice(0, 2).map(({ id }) => id)
  const first = await t.call('POST', `${site}/sweeps`, { repeats: 1, lensIds })
  const running = (await t.call('GET', `${site}/sweeps`)).body.filter((s: { status: string }) => s.status === 'running')
  expect(running.map((s: { lensId: number }) => s.lensId).sort()).toEqual([...lensIds].sort())
  expect(first.body.lensId).toBe(lensIds[0])
  expect((await t.call('POST', `${site}/sweeps`, {})).status).toBe(409)
})
