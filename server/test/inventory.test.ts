import 'reflect-metadata'
import type { AddOn, AddOnSheet, Ledger, NextMoveView, Page, Standing } from '@unvelt/contract'
import { appForTest, KEY } from './app-for-test.js'
import { ledgerCells } from './ledger-cells.js'

/** The inventory and the standing, over the recorded past of the demo: real readings of the real stand-in. */
let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let pages: Page[]

beforeAll(async () => {
  t = await appForTest()
  process.env.STANDIN_PAGES = '1000'
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  // Plain JavaScript of the start script, which knows no types.
  const { loadPast } = (await import('../../scripts/lib/past.mjs' as string)) as {
    loadPast(stack: object, site: number): Promise<void>
  }
  await loadPast({ databaseUrl: t.databaseUrl, standinAddress: t.standin.address }, body.id)
  pages = (await t.call('GET', `${site}/pages`)).body
})
afterAll(() => t?.stop())

const addOn = async (slug: string): Promise<AddOn> =>
  (await t.call('GET', `${site}/add-ons`)).body.find((each: AddOn) => each.slug === slug)
const sheet = async (slug: string): Promise<AddOnSheet> =>
  (await t.call('GET', `${site}/add-ons/${encodeURIComponent(slug)}`)).body
const post = async (path: string, text: string) => {
  const response = await fetch(`${await t.app.getUrl()}/api${site}/${path}`, { method: 'POST', body: text })
  return { status: response.status, body: await response.json() }
}

describe('the recorded past', () => {
  it('is five sweeps over four months', async () => {
    const { body: sweeps } = await t.call('GET', `${site}/sweeps`)
    expect(sweeps).toHaveLength(5)
    const days = sweeps.map(({ startedAt }: { startedAt: string }) => (Date.now() - Date.parse(startedAt)) / 86_400_000)
    expect(days.map(Math.round)).toEqual([2, 21, 49, 84, 119])
  })

  it('has margins that agree with the pages, to the byte', async () => {
    const { body: ledger } = await t.call('GET', `${site}/ledger`)
    const cells = await ledgerCells(t, site, ledger)
    for (const { id } of pages.filter((_, index) => index % 16 === 0)) {
      const { body: page } = await t.call('GET', `${site}/pages/${id}?sweep=${ledger.sweep.id}`)
      const files = page.requests as { transferBytes: number }[]
      // The listed repeat is the middle one by its load event, so another may be the middle one by bytes.
      const listed = files.reduce((sum, { transferBytes }) => sum + transferBytes, 0)
      expect(Math.abs(cells.pageSum(id, 'transferBytes') - listed) / listed).toBeLessThan(0.02)
    }
  })

  it('tells an add-on’s past: when it came, and what it weighed', async () => {
    const { past } = await sheet('tagbasket')
    expect(past.map(({ pages: on }) => on > 0)).toEqual([false, true, true, true, true])
    const versions = (await sheet('pass-it-on')).past.map(({ version }) => version)
    expect(versions).toEqual(['3.0.4', '3.0.4', '3.0.4', '3.0.4', '3.0.4-plus'])
  })

  it('opens an add-on into its features and files, whose bytes add up to its row', async () => {
    const { body: ledger } = (await t.call('GET', `${site}/ledger`)) as { body: Ledger }
    const { body: detail } = await t.call('GET', `${site}/ledger/details?sweep=${ledger.sweep!.id}&payer=grove-builder`)
    expect(detail.features).toHaveLength(40)
    expect(detail.features.filter(({ usedOn }: { usedOn: number[] }) => usedOn.length > 0)).toHaveLength(5)
    const sum = detail.files.flatMap((file: { values: { transferBytes: number[] } }) => file.values.transferBytes)
    const row = (await sheet('grove-builder')).past.at(-1)!.tolls.transferBytes!
    expect(sum.reduce((a: number, b: number) => a + b, 0)).toBe(row)
  })
})

describe('use', () => {
  it('is on the pages whose content has it, not seen on the others, and each says why', async () => {
    const { use, addOn: form } = await sheet('enquiry-form')
    expect(form.blocks.length).toBeGreaterThan(0)
    const used = use.filter(({ word }) => word === 'used')
    expect(used.map(({ pageId }) => pages.find(({ id }) => id === pageId)!.path)).toEqual(['/contact'])
    expect(used[0]!.because[0]).toContain('[[')
    expect(use.filter(({ word }) => word === 'not seen').length).toBeGreaterThan(40)
  })
  it('of what works unseen, and of what nothing can tell of, is said to be just that', async () => {
    const words = async (slug: string) => [...new Set((await sheet(slug)).use.map(({ word }) => word))]
    expect(await words('signpost')).toEqual(['works unseen'])
    expect(await words('heronmark')).toEqual(['unknown'])
    expect(await words('page-tally')).toEqual(['unknown'])
  })
  it('is what the maintainer says, for one page or for all, until it is taken back', async () => {
    const [first, second] = pages
    const say = (body: object) =>
      t.call('POST', `${site}/add-ons/page-tally/use`, body).catch(() => ({ status: 204, body: null }))
    const word = async (page: Page) => (await sheet('page-tally')).use.find(({ pageId }) => pageId === page.id)!.word
    await say({ word: 'not seen' })
    await say({ word: 'used', pageIds: [first!.id, first!.id], who: 'Wren Alder' })
    expect([await word(first!), await word(second!)]).toEqual(['used', 'not seen'])
    await say({ word: null, pageIds: [first!.id] })
    await say({ word: null })
    expect(await word(first!)).toBe('unknown')
    expect((await t.call('POST', `${site}/add-ons/page-tally/use`, { word: 'used', pageIds: [999_999] })).status).toBe(
      422,
    )
  })
  it('is also what visitors touch, from a table that is taken whole or not at all', async () => {
    expect(
      await post('touches', 'page,addon,touches\n/contact,garden-badge,3\n/contact,garden-badge,4\n'),
    ).toMatchObject({
      status: 200,
      body: { added: 2 },
    })
    const touched = (await sheet('garden-badge')).use.find(({ touches }) => touches !== null)
    expect(touched).toMatchObject({ touches: 7, word: 'used' })
    const bad = await post('touches', 'page,addon,touches\n/contact,garden-badge,9\n/nowhere,garden-badge,1\n')
    expect(bad).toMatchObject({
      status: 422,
      body: { title: expect.stringContaining('Line 3, page: expected the path') },
    })
    expect((await sheet('garden-badge')).use.find(({ touches }) => touches !== null)).toMatchObject({ touches: 7 })
    expect((await post('touches', 'page;addon\n')).body.title).toContain('expected columns page, addon, touches')
  })
})

describe('standing', () => {
  /** Nothing of these may ever be suggested for removal: they work unseen, are planned, or nobody can tell. */
  const NEVER = [
    ...[
      'nightly-copy',
      'link-warden',
      'weed-filter',
      'signpost',
      'larder',
      'trim-press',
      'leaf-press',
      'press-together',
    ],
    ...[
      'seed-importer',
      'festival-programme',
      'comments',
      'heronmark',
      'page-tally',
      'rootlib',
      'hollow',
      'loam-office',
    ],
    ...['page-parts', 'bramble-menu', 'presence-ping', 'syndication-links'],
  ]
  const standing = async (): Promise<Standing> => (await t.call('GET', `${site}/standing`)).body

  it('suggests moves, best first, and never the removal of what may be needed', async () => {
    const { moves } = await standing()
    const removals = moves.filter(({ type }) => ['confine', 'retire', 'same job'].includes(type))
    expect(removals.map(({ addon }) => addon).filter((slug) => NEVER.includes(slug))).toEqual([])
    const unloaded = moves
      .flatMap(({ rules }) => rules)
      .filter(({ effect }) => effect === 'skip' || effect === 'leave-out')
    expect(unloaded.map(({ addon }) => addon).filter((slug) => NEVER.includes(slug))).toEqual([])
    expect(moves.map(({ waitingMs }) => waitingMs)).toEqual(
      moves.map(({ waitingMs }) => waitingMs).sort((a, b) => b - a),
    )
    expect(removals).toContainEqual(
      expect.objectContaining<Partial<NextMoveView>>({
        type: 'confine',
        addon: 'canopy-slider',
        certainty: 'the site says so',
      }),
    )
  })
  it('has rules in its moves that can be drafted as they are, and spare what was predicted to be spared', async () => {
    const rules = (await standing()).moves.flatMap((move) => move.rules)
    const { status, body } = await t.call('POST', `${site}/drafts`, { rules })
    expect([status, body.rules.length > 10]).toEqual([200, true])
    expect(body.prediction.saved.transferBytes).toBeGreaterThan(1e6)
    await t.call('DELETE', `${site}/drafts`)
  })
  it('keeps a move aside with its reason, until it is brought back', async () => {
    const [move] = (await standing()).moves
    const done = await fetch(`${await t.app.getUrl()}/api${site}/dismissals`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ move: move!.key, why: 'Not before spring.' }),
    })
    expect(done.status).toBe(204)
    const after = await standing()
    expect(after.moves.map(({ key }) => key)).not.toContain(move!.key)
    expect(after.dismissed).toMatchObject([{ move: move!.key, why: 'Not before spring.' }])
    await fetch(`${await t.app.getUrl()}/api${site}/dismissals?move=${encodeURIComponent(move!.key)}`, {
      method: 'DELETE',
    })
    expect((await standing()).moves[0]!.key).toBe(move!.key)
  })
  it('says what changed since the sweep before, and how the middle page went', async () => {
    const { changes, past, wait, kinds } = await standing()
    expect(changes.find(({ slug }) => slug === 'pass-it-on')).toMatchObject({
      type: 'updated',
      from: '3.0.4',
      to: '3.0.4-plus',
    })
    expect(changes.find(({ slug }) => slug === 'festival-programme')).toMatchObject({ type: 'new' })
    expect(past).toHaveLength(5)
    expect(past.at(-1)!.transferBytes).toBeGreaterThan(past[0]!.transferBytes)
    expect(wait!.addOnsInBrowser).toBeGreaterThan(0)
    expect(kinds[0]!.kind).toBe('plugin')
  })
})

describe('verdicts and words', () => {
  it('are given with who and why, and taken back to what held before', async () => {
    const decide = (verdict: string, why: string) =>
      t.call('POST', `${site}/add-ons/canopy-slider/verdicts`, { verdict, why, who: 'Wren Alder' })
    expect((await addOn('canopy-slider')).verdict.verdict).toBe('undecided')
    await decide('ask', 'Who uses it?')
    await decide('confine', 'The home page only.')
    expect((await addOn('canopy-slider')).verdict).toMatchObject({ verdict: 'confine', who: 'Wren Alder' })
    await t.call('DELETE', `${site}/add-ons/canopy-slider/verdicts/newest`)
    expect((await sheet('canopy-slider')).verdicts).toMatchObject([{ verdict: 'ask', why: 'Who uses it?' }])
    expect((await decide('burn', '')).status).toBe(422)
  })
  it('stand over what the site tells, and say so', async () => {
    await t.call('PATCH', `${site}/add-ons/reel-frames`, { name: 'Films', owner: 'Hazel Marsh' })
    expect(await addOn('reel-frames')).toMatchObject({
      name: 'Films',
      owner: 'Hazel Marsh',
      from: { name: 'hand', owner: 'hand', version: 'connector' },
    })
    await t.call('PATCH', `${site}/add-ons/reel-frames`, { name: '' })
    expect((await addOn('reel-frames')).from.name).toBe('connector')
  })
  it('wait for an answer as long as there is none', async () => {
    const { body } = await t.call('POST', `${site}/add-ons/picture-wall/questions`, {
      asks: 'Still needed?',
      whom: 'events',
    })
    expect((await addOn('picture-wall')).openQuestions).toBe(1)
    await fetch(`${await t.app.getUrl()}/api${site}/questions/${body[0].id}/answer`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ answer: 'Yes, in summer.' }),
    })
    expect((await addOn('picture-wall')).openQuestions).toBe(0)
    expect((await sheet('picture-wall')).questions).toMatchObject([{ answer: 'Yes, in summer.' }])
  })
  it('tell who does the same job', async () => {
    expect((await sheet('pass-it-on')).sameJob).toEqual(['ribbon-share'])
    expect((await sheet('rootlib')).neededBy).toContain('canopy-slider')
  })
})

describe('lists', () => {
  const get = async (path: string) => (await fetch(`${await t.app.getUrl()}/api${site}/${path}`)).text()

  it('go out as CSV without formulas, and come in again without doubles', async () => {
    await t.call('PATCH', `${site}/add-ons/reel-frames`, { purpose: '=HYPERLINK("x")' })
    const csv = await get('inventory.csv')
    expect(csv).toContain(`"'=HYPERLINK(""x"")"`)
    const before = (await t.call('GET', `${site}/add-ons`)).body.length
    expect(await post('inventory', csv)).toMatchObject({ status: 200, body: { added: 0, known: before } })
    expect((await t.call('GET', `${site}/add-ons`)).body).toHaveLength(before)
  })
  it('go out and come in as CycloneDX, new entries with the facts they bring', async () => {
    const document = JSON.parse(await get('inventory.cdx.json'))
    expect(document.components.length).toBeGreaterThan(50)
    document.components.push({ type: 'library', name: 'Night Lights', version: '1.2', publisher: 'Lampworks' })
    expect(await post('inventory', JSON.stringify(document))).toMatchObject({ body: { added: 1 } })
    expect(await addOn('night-lights')).toMatchObject({
      source: 'import',
      author: 'Lampworks',
      from: { name: 'import' },
    })
    expect((await fetch(`${await t.app.getUrl()}/api${site}/add-ons/night-lights`, { method: 'DELETE' })).status).toBe(
      200,
    )
  })
  it.each([
    ['{"bomFormat":"CycloneDX","components":[{"name":7}]}', '/components/0/name: expected a text'],
    ['{"bomFormat"', 'The list is not JSON'],
    ['slug,kind\na,plugin\n', 'expected columns name'],
    ['name,kind\nA,plugin\nB,gadget\n', 'Line 3, kind: expected one of plugin'],
    ['name\n"open\n', 'Nothing was taken in.'],
  ])('%j are refused with the place', async (text, message) => {
    const { status, body } = await post('inventory', text)
    expect([status, body.title]).toEqual([422, expect.stringContaining(message)])
  })
  it('of entries by hand are added, and those that the site tells of stay', async () => {
    expect((await t.call('POST', `${site}/add-ons`, { slug: 'lamp', name: 'Lamp', kind: 'snippet' })).status).toBe(201)
    expect((await t.call('POST', `${site}/add-ons`, { slug: 'lamp' })).status).toBe(409)
    expect((await t.call('DELETE', `${site}/add-ons/lamp`)).status).toBe(200)
    expect((await t.call('DELETE', `${site}/add-ons/ticket-desk`)).status).toBe(409)
  })
})
