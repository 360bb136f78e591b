import 'reflect-metadata'
import { AddOnRow } from '../src/add-on/add-on.model.js'
import { draftsToFollow, followed } from '../src/page-set/follow-set.js'
import type { DraftRule } from '../src/rule/merge-rules.js'
import { appForTest, KEY } from './app-for-test.js'

/** Pages that have a name together, and rules that say it. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
beforeAll(async () => {
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(() => t?.stop())

const sets = async () => (await t.call('GET', `${site}/page-sets`)).body
const drafts = async () => (await t.call('GET', `${site}/drafts`)).body.rules
const draft = (place: object) =>
  t.call('POST', `${site}/drafts`, { rules: [{ addon: 'canopy-slider', effect: 'leave-out', place }] })
const maps = { name: 'with a map', note: 'they have the visitors’ map', paths: ['/', '/contact'] }
const onMaps = { level: 'set', name: maps.name, paths: maps.paths }

it('keeps pages under a name, once, and says which of them are gone', async () => {
  const { status, body } = await t.call('POST', `${site}/page-sets`, { ...maps, paths: ['/', '/contact', '/'] })
  expect([status, body]).toEqual([
    201,
    [{ ...maps, id: expect.any(Number), gone: [], liveRules: 0, drafts: 0, changedAt: expect.any(String) }],
  ])
  expect(await t.call('POST', `${site}/page-sets`, maps)).toMatchObject({
    status: 409,
    body: { errors: [{ field: 'name' }] },
  })
  expect(await t.call('POST', `${site}/page-sets`, { name: 'x', paths: ['/', 'contact'] })).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'paths/1' }] },
  })
  for (const bad of [
    { name: ' ', paths: ['/'] },
    { name: 'x', paths: [] },
    { name: 'x', paths: [7] },
    { paths: ['/'] },
  ])
    expect((await t.call('POST', `${site}/page-sets`, bad)).status).toBe(422)
  const odd = (await t.call('POST', `${site}/page-sets`, { name: 'odd', paths: ['/', '/was-here'] })).body
  const { id, gone } = odd.find(({ name }: { name: string }) => name === 'odd')
  expect(gone).toEqual(['/was-here'])
  expect((await t.call('DELETE', `${site}/page-sets/${id}`)).body.map(({ name }: { name: string }) => name)).toEqual([
    maps.name,
  ])
  expect((await t.call('DELETE', `${site}/page-sets/${id}`)).status).toBe(404)
})

it('a rule that says a name is one rule, whatever pages are in it; drafts follow at once, and live ones as drafts', async () => {
  expect((await draft(onMaps)).status).toBe(200)
  expect((await draft({ ...onMaps, paths: ['/about', '/contact'] })).status).toBe(200)
  expect((await drafts()).map(({ place }: { place: object }) => place)).toEqual([
    { ...onMaps, paths: ['/about', '/contact'] },
  ])
  const [{ id, drafts: count }] = await sets()
  expect(count).toBe(1)
  expect(await t.call('DELETE', `${site}/page-sets/${id}`)).toMatchObject({
    status: 409,
    body: { title: expect.stringMatching(/still say with a map/) },
  })

  const changed = await t.call('PUT', `${site}/page-sets/${id}`, { ...maps, paths: ['/', '/about'] })
  expect(changed.body).toMatchObject({ drafted: 0, sets: [{ paths: ['/', '/about'] }] })
  expect((await drafts())[0].place.paths).toEqual(['/', '/about'])

  const put = await t.call('POST', `${site}/rules/put-live`, { readAgain: 'none', unrehearsed: 'a test' })
  expect([put.status, put.body.title]).toEqual([200, undefined])
  await until(async () => (await sets())[0].liveRules === 1)
  expect(await drafts()).toEqual([])

  // Nothing of its pages changes, so no rule has to follow.
  const noted = await t.call('PUT', `${site}/page-sets/${id}`, { ...maps, paths: ['/about', '/'], note: 'other' })
  expect(noted.body.drafted).toBe(0)
  const wider = await t.call('PUT', `${site}/page-sets/${id}`, { ...maps, paths: ['/', '/about', '/donate'] })
  expect(wider.body.drafted).toBe(1)
  const [follows] = await drafts()
  expect(follows).toMatchObject({ addon: 'canopy-slider', effect: 'leave-out', place: { name: maps.name } })
  expect(follows.place.paths).toEqual(['/', '/about', '/donate'])

  // Where a rule can't follow, nothing of the set changes.
  await AddOnRow.update({ source: 'found' }, { where: { slug: 'canopy-slider' } })
  await t.call('DELETE', `${site}/drafts`)
  expect((await t.call('PUT', `${site}/page-sets/${id}`, { ...maps, paths: ['/donate'] })).status).toBe(422)
  expect((await sets())[0].paths).toEqual(['/', '/about', '/donate'])
  await AddOnRow.update({ source: 'connector' }, { where: { slug: 'canopy-slider' } })
  await t.call('PUT', `${site}/page-sets/${id}`, { ...maps, paths: ['/', '/about'] })
  await t.call('PUT', `${site}/page-sets/${id}`, { ...maps, paths: ['/', '/about', '/donate'] })

  // Under another name it is another rule: the one before goes, and the new one has the pages.
  const renamed = await t.call('PUT', `${site}/page-sets/${id}`, { name: 'with the map', paths: ['/', '/donate'] })
  expect(renamed.body).toMatchObject({ drafted: 1, sets: [{ name: 'with the map', liveRules: 0, drafts: 1 }] })
  expect(
    (await drafts()).map(({ place, removed }: { place: { name: string }; removed?: true }) => [place.name, removed]),
  ).toEqual([
    ['with the map', undefined],
    ['with a map', true],
  ])
})

it('what is drafted already says what becomes of its live rule', () => {
  const rule = (name: string, more: Partial<DraftRule> = {}): DraftRule => ({
    id: name,
    addon: 'slider',
    effect: 'leave-out',
    place: { level: 'set', paths: ['/'], name },
    ...more,
  })
  const change = { from: 'maps', name: 'maps', paths: ['/', '/about'] }
  expect(draftsToFollow([rule('maps'), rule('other')], [], change)).toHaveLength(1)
  expect(draftsToFollow([rule('maps')], [rule('maps', { effect: 'hold' })], change)).toEqual([])
  expect(draftsToFollow([rule('maps')], [rule('maps', { removed: true })], change)).toEqual([])
  expect(followed(rule('maps', { effect: 'hold' }), change)).toMatchObject({
    effect: 'hold',
    place: { paths: change.paths },
  })
  expect(followed(rule('maps', { removed: true }), change)).toBeNull()
  expect(followed(rule('other'), change)).toBeNull()
})

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let n = 0; n < 100; n++) {
    if (await holds()) return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error('It did not come about.')
}
