import { measuring, standinForTest } from './standin-client.js'

/** What is tried on a page that is measured, and is at the site nowhere else. */
let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => void (site = await standinForTest()))
afterAll(() => site?.stop())

const keep = async (addOns: object, rules: object[] = []) =>
  site.connector('POST', '/drafts', { format: 'unvelt-rules/1', rules, addOns })
const under = async (id: string, path: string) => site.get(path, measuring(path, `rules=draft-${id}, cache=bypass`))
const idOf = async (addOns: object, rules?: object[]) => ((await keep(addOns, rules)).json() as { id: string }).id
const seen = async (path: string) => JSON.stringify((await site.connector('GET', path)).json())
const traces = async () => Promise.all(['/inventory', '/assets', '/leftovers'].map(seen))

it('lists what nobody has installed, and other versions of what is there', async () => {
  const { addOns } = (await site.connector('GET', '/shelf')).json() as { addOns: { slug: string; version: string }[] }
  expect(addOns).toContainEqual(expect.objectContaining({ slug: 'plain-share', version: '1.2.0' }))
  expect(addOns).toContainEqual(expect.objectContaining({ slug: 'pass-it-on', version: '3.0.4-plus' }))
  expect(addOns.some(({ slug, version }) => slug === 'pass-it-on' && version === '3.0.4')).toBe(false)
})

it('is on the page for who names the drafts, with its files, and gone with them', async () => {
  const before = await traces()
  const id = await idOf({ 'pass-it-on': null, 'plain-share': '1.2.0' })
  const tried = (await under(id, '/about')).text
  expect(tried).toContain('/add-ons/plain-share/plain-share.js')
  expect(tried).not.toContain('/add-ons/pass-it-on/')
  expect((await site.get('/add-ons/plain-share/plain-share.js')).status).toBe(200)
  await site.connector('POST', '/drafts/remove', { id })
  expect((await site.get('/add-ons/plain-share/plain-share.js')).status).toBe(404)
  expect(await traces()).toEqual(before)
  expect((await site.get('/about')).text).not.toContain('plain-share')
})

it('has its tables on the page that is tried, and nobody finds them behind it', async () => {
  const before = await traces()
  const id = await idOf({ 'gate-tally': '4.0.2' })
  const answer = await under(id, '/about')
  expect(answer.status).toBe(200)
  expect(answer.headers['server-timing']).toMatch(/addon\.gate-tally\.db;dur=[\d.]+;desc="?2"?/)
  expect(await traces()).toEqual(before)
  await site.connector('POST', '/drafts/remove', { id })
})

it('takes rules for what is tried, and refuses what the shelf has not', async () => {
  const place = { level: 'page', path: '/about' }
  const rule = { id: 'r', addon: 'plain-share', effect: 'leave-out', place }
  expect((await keep({}, [rule])).status).toBe(422)
  const id = await idOf({ 'plain-share': '1.2.0' }, [rule])
  const tried = (await under(id, '/about')).text
  expect(tried).toContain('class="plain-share"')
  expect(tried).not.toContain('src="/add-ons/plain-share/plain-share.js"')
  for (const [wanted, at] of [
    [{ 'plain-share': '9' }, '/addOns/plain-share'],
    [{ 'no-such': '1' }, '/addOns/no-such'],
    [{ 'no-such': null }, '/addOns/no-such'],
    [{ 'pass-it-on': 3 }, '/addOns/pass-it-on'],
    [{ constructor: '1' }, '/addOns/constructor'],
  ] as const) {
    const refused = await keep(wanted)
    expect(refused.status).toBe(422)
    expect(refused.json()).toMatchObject({ problems: [{ at }] })
  }
  await site.connector('POST', '/drafts/remove', { id })
})
