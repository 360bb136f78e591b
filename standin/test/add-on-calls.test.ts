import { measuring, standinForTest } from './standin-client.js'

let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => void (site = await standinForTest()))
afterAll(() => site?.stop())

const fresh = async (path: string) => (await site.get(path, measuring(path))).text
const inventory = async () => {
  const { addOns } = (await site.connector('GET', '/inventory')).json() as { addOns: Record<string, unknown>[] }
  return new Map(addOns.map((addOn) => [addOn.slug as string, addOn]))
}

describe('tables', () => {
  it('tells of a table that is mostly air', async () => {
    const [table] = (await inventory()).get('page-tally')!.tables as { bytes: number; reclaimableBytes: number }[]
    expect(table!.reclaimableBytes).toBeGreaterThan(table!.bytes / 2)
  })
})

describe('features and settings', () => {
  it('are obeyed on the next page: a feature’s files go, a list gets shorter', async () => {
    expect(await fresh('/plan-a-visit')).toContain('transitions.js')
    const off = await site.connector('PUT', '/add-ons/canopy-slider/features', { features: { transitions: false } })
    expect(off.json()).toMatchObject({ features: [{ slug: 'transitions', on: false }] })
    await site.connector('PUT', '/add-ons/walk-almanac/features', { settings: { 'most-walks': 3 } })
    const page = await fresh('/plan-a-visit')
    expect(page).not.toContain('transitions.js')
    expect(page.match(/<tr data-places/g)).toHaveLength(3)
    await site.connector('PUT', '/add-ons/canopy-slider/features', { features: { transitions: true } })
  })

  it.each([
    ['an unknown feature', { features: { nothing: true } }, '/features/nothing'],
    ['a feature that is neither on nor off', { features: { transitions: 1 } }, '/features/transitions'],
    ['an unknown setting', { settings: { nothing: 1 } }, '/settings/nothing'],
  ])('refuse %s, and change nothing', async (_, body, at) => {
    const answer = await site.connector('PUT', '/add-ons/canopy-slider/features', body)
    expect(answer.status).toBe(422)
    expect(answer.json()).toMatchObject({ problems: [{ at }] })
    expect((await inventory()).get('canopy-slider')).toMatchObject({ features: [{ on: true }] })
  })

  it('refuse a number out of range', async () => {
    const answer = await site.connector('PUT', '/add-ons/walk-almanac/features', { settings: { 'most-walks': 0 } })
    expect(answer.json()).toMatchObject({ problems: [{ expected: 'a whole number from 1 to 50' }] })
  })

  it('can be switched off for one page by a rule, where the block then stays as it is written', async () => {
    const rules = [
      {
        id: 'f',
        addon: 'grove-builder',
        feature: 'quote',
        effect: 'skip',
        place: { level: 'page', path: '/articles/the-registrar' },
      },
    ]
    const { headers } = await site.connector('GET', '/rules')
    expect(
      (await site.connector('PUT', '/rules', { format: 'unvelt-rules/1', rules }, { 'if-match': String(headers.etag) }))
        .status,
    ).toBe(200)
    const page = await fresh('/articles/the-registrar')
    expect(page).toContain('[[grove block="quote"')
    expect(page).not.toContain('blocks/quote.js')
    expect(page).toContain('blocks/faces.js')
    expect(await fresh('/articles/owls')).toContain('blocks/quote.js')
  })

  it.each([
    ['an unknown feature', { feature: 'nothing' }, '/rules/0/feature'],
    ['an effect that no feature knows', { feature: 'quote', effect: 'hold' }, '/rules/0/effect'],
    ['a single file left unrun', { file: '/add-ons/grove-builder/blocks/quote.js' }, '/rules/0/effect'],
    ['an add-on that always runs', { addon: 'hollow' }, '/rules/0/effect'],
  ])('a rule for %s is refused', async (_, part, at) => {
    const { headers } = await site.connector('GET', '/rules')
    const rule = { id: 'f', addon: 'grove-builder', effect: 'skip', place: { level: 'everywhere' }, ...part }
    const answer = await site.connector(
      'PUT',
      '/rules',
      { format: 'unvelt-rules/1', rules: [rule] },
      { 'if-match': String(headers.etag) },
    )
    expect(answer.status).toBe(422)
    expect(answer.json()).toMatchObject({ problems: [{ at }] })
  })

  it('a setting is set for one page by a rule, within its bounds, and stays elsewhere', async () => {
    const put = async (part: object) => {
      const { headers } = await site.connector('GET', '/rules')
      const place = { level: 'page', path: '/plan-a-visit' }
      const rule = { id: 's', addon: 'walk-almanac', setting: 'most-walks', effect: 'set', value: 2, place, ...part }
      const rules = { format: 'unvelt-rules/1', rules: [rule] }
      return site.connector('PUT', '/rules', rules, { 'if-match': String(headers.etag) })
    }
    const walksOn = async (path: string) => (await fresh(path)).match(/<tr data-places/g)?.length
    const elsewhere = await walksOn('/events/seed-swap')
    expect((await put({})).status).toBe(200)
    expect(await walksOn('/plan-a-visit')).toBe(2)
    expect(await walksOn('/events/seed-swap')).toBe(elsewhere)
    expect((await put({ value: 51 })).json()).toMatchObject({ problems: [{ at: '/rules/0/value' }] })
    expect((await put({ setting: 'none' })).json()).toMatchObject({ problems: [{ at: '/rules/0/setting' }] })
    expect((await put({ addon: 'hollow', setting: 'text-width', value: 70 })).json()).toMatchObject({
      problems: [{ expected: 'a setting of hollow that can differ between pages' }],
    })
  })

  it('counts the blocks in use, and says through what each is used', async () => {
    const grove = (await inventory()).get('grove-builder')!
    const used = (grove.features as { slug: string; uses: number }[]).filter(({ uses }) => uses > 0)
    expect(used.map(({ slug }) => slug).sort()).toEqual(['appeal', 'columns', 'faces', 'quote', 'timeline'])
    const { uses } = (await site.connector('GET', '/use-evidence')).json() as { uses: { path: string }[] }
    expect(uses).toContainEqual({
      path: '/donate',
      addon: 'grove-builder',
      feature: 'appeal',
      through: '[[grove block="appeal" title="A tree for forty years"]]',
    })
    expect(uses.filter(({ path }) => path === '/articles/moss-for-beginners')).toEqual([
      { path: '/articles/moss-for-beginners', addon: 'related-reads', through: '[[related limit="3"]]' },
    ])
  })
})

describe('switching, updating and removing', () => {
  it('switches an add-on off and on', async () => {
    await site.connector('PUT', '/add-ons/garden-badge/active', { active: false })
    expect(await fresh('/about')).not.toContain('garden-badge.js')
    await site.connector('PUT', '/add-ons/garden-badge/active', { active: true })
    expect(await fresh('/about')).toContain('garden-badge.js')
  })

  it.each([
    ['PUT', '/add-ons/hollow/active', { active: false }, 409],
    ['PUT', '/add-ons/nobody/active', { active: false }, 404],
    ['PUT', '/add-ons/garden-badge/active', { active: 'no' }, 422],
    ['POST', '/add-ons/pass-it-on/install', { version: '99' }, 422],
    ['POST', '/add-ons/nobody/install', {}, 404],
    ['DELETE', '/add-ons/nobody', undefined, 404],
    ['DELETE', '/inventory', undefined, 405],
    ['GET', '/nothing', undefined, 404],
    ['DELETE', '/add-ons/%E0%A4%A', undefined, 404],
  ])('%s %s %j is refused with %i', async (method, path, body, status) => {
    const answer = await site.connector(method, path, body)
    expect(answer.status).toBe(status)
    expect(answer.headers['content-type']).toBe('application/problem+json')
  })

  it('installs another version, whose file at the same address is another', async () => {
    const pack = '/add-ons/code-colours/pack-text.js'
    const before = (await site.get(pack)).text
    const installed = await site.connector('POST', '/add-ons/code-colours/install', { version: '4.1.0' })
    expect(installed.json()).toMatchObject({ version: '4.1.0' })
    expect((await site.get(pack)).text).not.toBe(before)
    expect((await site.get('/add-ons/code-colours/pack-web.js')).status).toBe(200)
    await site.connector('POST', '/add-ons/code-colours/install', { version: '4.0.0' })
    expect((await site.get(pack)).text).toBe(before)
  })

  it('clears a block away that nobody draws, and puts it back with what its owner had', async () => {
    const { id } = (await site.connector('POST', '/snapshots', { name: 'with the block' })).json() as { id: number }
    const shown = () => fresh('/archive')
    const block = (
      (await site.connector('GET', '/leftovers')).json() as { leftovers: { id: string; type: string; of: string }[] }
    ).leftovers.find(({ type }) => type === 'block')!
    expect(block).toMatchObject({
      of: 'Form Nook',
      path: '/archive',
      because: ['no add-on draws it', expect.anything()],
    })
    expect(await shown()).toContain('[[nook-form')
    expect((await site.connector('POST', '/leftovers/remove', { ids: [block.id] })).json()).toEqual({ removed: 1 })
    expect(await shown()).not.toContain('[[nook-form')
    await site.connector('POST', `/snapshots/${id}/restore`, { addOn: 'Form Nook' })
    expect(await shown()).toContain('[[nook-form')
  })
  it('clears away files that are still served of an add-on long gone, and puts them back with what it had', async () => {
    const { id } = (await site.connector('POST', '/snapshots', { name: 'with the files' })).json() as { id: number }
    const path = '/uploads/rotor_banners/turn.js'
    const served = async () => (await site.get(path)).status
    const asked = Date.now()
    expect(await served()).toBe(200)
    const { leftovers } = (await site.connector('GET', '/leftovers')).json() as {
      leftovers: { name: string; lastRead?: string }[]
    }
    // The log tells whole seconds.
    expect(Date.parse(leftovers.find(({ name }) => name === path)!.lastRead!)).toBeGreaterThan(asked - 1_001)
    expect(leftovers.find(({ name }) => name.endsWith('banner-spring.svg'))).not.toHaveProperty('lastRead')
    const removed = await site.connector('POST', '/leftovers/remove', { ids: [`file:${path}`] })
    expect(removed.json()).toEqual({ removed: 1 })
    expect(await served()).toBe(404)
    await site.connector('POST', `/snapshots/${id}/restore`, { addOn: 'Banner Rotor' })
    expect(await served()).toBe(200)
  })

  it('removes an add-on, whose tables and tasks are leftovers from then on, until they go too', async () => {
    const leftovers = async () =>
      (
        (await site.connector('GET', '/leftovers')).json() as {
          leftovers: { id: string; of: string; bytes: number; lastWritten?: string }[]
        }
      ).leftovers
    const before = await leftovers()
    expect(new Set(before.map(({ of }) => of))).toEqual(new Set(['Visitor Book Pro', 'Banner Rotor', 'Form Nook']))
    expect(before.find(({ id }) => id === 'table:nook_letters')).toMatchObject({ rows: 41_000 })
    const { lastWritten } = before.find(({ id }) => id === 'table:nook_letters')!
    expect(Date.now() - Date.parse(lastWritten!)).toBeGreaterThan(699 * 86_400_000)
    const removed = await site.connector('DELETE', '/add-ons/nightly-copy')
    expect(removed.json()).toEqual({ slug: 'nightly-copy', leftovers: 2 })
    expect((await inventory()).has('nightly-copy')).toBe(false)
    const ids = (await leftovers()).filter(({ of }) => of === 'nightly-copy').map(({ id }) => id)
    expect(ids).toEqual(['table:nightly_copies', 'task:nightly_copy'])
    const wrong = await site.connector('POST', '/leftovers/remove', { ids: [...ids, 'table:comments'] })
    expect(wrong.status).toBe(422)
    expect(wrong.json()).toMatchObject({ problems: [{ at: '/ids/2' }] })
    expect((await site.connector('POST', '/leftovers/remove', { ids })).json()).toEqual({ removed: 2 })
    // The database sees to its tables when it likes, and then they take a page more or less.
    const unsized = (list: typeof before) => list.map(({ bytes: _, ...entry }) => entry)
    expect(unsized(await leftovers())).toEqual(unsized(before))
  })

  it('brings everything back from a snapshot: the add-on, its table, the removed rows', async () => {
    const made = (await site.connector('POST', '/snapshots', { name: 'before' })).json() as { id: number }
    await site.connector('DELETE', '/add-ons/seed-shop')
    await site.connector('POST', '/leftovers/remove', { ids: ['table:stall_orders', 'table:nook_letters'] })
    expect((await site.get('/shop')).text).toContain('[[shelf]]')
    expect((await site.connector('POST', `/snapshots/${made.id}/restore`)).json()).toEqual({ restored: made.id })
    await site.connector('POST', '/purge', {})
    expect((await site.get('/shop')).text).toContain('class="shelf"')
    const { leftovers } = (await site.connector('GET', '/leftovers')).json() as { leftovers: { id: string }[] }
    expect(leftovers.map(({ id }) => id)).toContain('table:nook_letters')
    expect((await inventory()).get('seed-shop')).toMatchObject({
      tables: [{ name: 'stall_basket' }, { name: 'stall_orders', rows: 40 }],
    })
  })
})
