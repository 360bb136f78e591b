import { readingTotals, type Reading } from '@unvelt/core'
import { DEFAULT_LENS, FIRST_LENSES, type LensSettings } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { failureSentence } from '../src/reading/failure.js'
import { readPage } from '../src/browser/read-page.js'
import type { ReadingOrder } from '../src/browser/reading-order.js'
import { signIn } from '../src/site-http/sign-in.js'
import { seal } from '../src/site-http/secret-box.js'
import { shared } from '../../testing/shared.js'
import { appForTest, KEY } from './app-for-test.js'

let t: Awaited<ReturnType<typeof appForTest>>
let site: string
let browser: Awaited<ReturnType<typeof launchBrowser>>
const secret = Buffer.alloc(32, 1)
let attempts = 0

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
})
afterAll(async () => {
  await browser?.close()
  await t?.stop()
})

const looked = (part: Partial<LensSettings>, path = '/about', more: Partial<ReadingOrder> = {}): Promise<Reading> =>
  readPage(browser, {
    reach: 'anywhere',
    url: t.standin.address + path,
    lens: { ...DEFAULT_LENS.settings, ...part },
    clean: true,
    ...more,
  })
/** The first lens. */
const onDesk = shared(() => looked({}))
const form = (word: string): Partial<LensSettings> => ({
  visitor: {
    kind: 'form',
    role: 'member',
    path: '/sign-in',
    sealed: seal(JSON.stringify({ name: 'member', word }), secret),
  },
})

describe('looking', () => {
  it('through a handset is a visit by phone: the page cache keeps a copy for each device', async () => {
    const { device } = FIRST_LENSES[1]!.settings
    // An address of its own for each attempt, which no copy can stand for yet.
    const path = `/about?attempt=${attempts++}`
    const caches: (string | undefined)[] = []
    for (const part of [{}, { device }, { device }])
      caches.push((await looked(part, path, { untimed: true })).requests[0]!.responseHeaders['x-page-cache'])
    expect(caches).toEqual(['miss', 'miss', 'hit'])
  })

  it('across an ocean takes longer for the same bytes', async () => {
    const far = { latencyMs: 300, downKbps: 20_000, upKbps: 5_000 }
    const away = await looked({ network: far })
    let near = await onDesk()
    // Other work on the machine only adds to a time, so the least of several is what the page itself takes.
    for (let tries = 0; tries < 4 && away.timings.load! - near.timings.load! <= 300; tries++) near = await looked({})
    expect(away.timings.load! - near.timings.load!).toBeGreaterThan(300)
    // What goes on by itself, pings and advertising, differs with the time that there is for it.
    const own = ({ requests }: Reading) =>
      requests
        .filter(({ url, type }) => url.startsWith(t.standin.address) && ['document', 'script', 'style'].includes(type))
        .map(({ url, decodedBytes }) => `${url} ${url.endsWith('/about') ? '' : decodedBytes}`)
        .sort()
    expect(own(away)).toEqual(own(near))
    expect(own(near).length).toBeGreaterThan(20)
  })

  it('a second time asks for what may not be kept, and for nothing else', async () => {
    const [cold, warm] = [await onDesk(), await looked({ cache: 'warm' })]
    expect(readingTotals(warm).requests).toBeLessThan(readingTotals(cold).requests / 2)
    expect(warm.requests.find((r) => r.url.endsWith('/rootlib.js'))).toMatchObject({
      fromCache: true,
      transferBytes: 0,
    })
  })

  it('as somebody who signed in by the form sees the members’ pages', async () => {
    const cookie = await signIn(
      t.standin.address,
      { ...DEFAULT_LENS.settings, ...form('hazel-walk') },
      secret,
      'anywhere',
    )
    expect((await looked(form('hazel-walk'), '/members', { cookie })).title).toContain('Members')
  })

  it('as somebody who is not signed in any more, or never was, fails and says so', async () => {
    const wrong = signIn(t.standin.address, { ...DEFAULT_LENS.settings, ...form('wrong') }, secret, 'anywhere')
    expect(await wrong.then(() => '', failureSentence)).toBe(
      'Signing in failed: /sign-in answered 303 and set no cookie.',
    )
    const stale = looked(form('x'), '/members', { cookie: 'loam=member.1.00' })
    expect(await stale.then(() => '', failureSentence)).toBe(
      'The page sent the visitor on to /sign-in: not signed in, or not allowed.',
    )
  })
})

describe('the lenses of a site', () => {
  const remove = async (id: number) =>
    (await fetch(`${await t.app.getUrl()}/api${site}/lenses/${id}`, { method: 'DELETE' })).status
  const input = {
    name: 'Members',
    device: DEFAULT_LENS.settings.device,
    network: null,
    cache: 'cold',
    visitor: { kind: 'cookie', role: 'member', cookie: 'loam=secret' },
  }

  it('are five to begin with, and more can be added, changed and removed', async () => {
    const { body: first } = await t.call('GET', `${site}/lenses`)
    expect(first.map((lens: { name: string }) => lens.name)).toEqual(FIRST_LENSES.map(({ name }) => name))
    const added = await t.call('POST', `${site}/lenses`, input)
    expect(added.status).toBe(201)
    expect(JSON.stringify(added.body)).not.toContain('secret')
    expect(added.body).toMatchObject({ visitor: 'cookie', role: 'member', sweeps: 0 })
    const changed = await t.call('PUT', `${site}/lenses/${added.body.id}`, { ...input, cache: 'warm' })
    expect(changed.body).toMatchObject({ cache: 'warm' })
    expect((await t.call('POST', `${site}/lenses`, input)).status).toBe(409)
    expect(await remove(added.body.id)).toBe(204)
  })

  it('come back as they were when a removal is taken back, unless their name is another’s by then', async () => {
    const { body: lens } = await t.call('POST', `${site}/lenses`, { ...input, name: 'Taken back' })
    const names = async () => (await t.call('GET', `${site}/lenses`)).body.map(({ name }: { name: string }) => name)
    expect(await remove(lens.id)).toBe(204)
    expect(await names()).not.toContain('Taken back')
    expect((await t.call('PUT', `${site}/lenses/${lens.id}`, { ...input, name: 'Taken back' })).status).toBe(404)
    expect((await t.call('POST', `${site}/lenses/${lens.id}/restore`)).body).toEqual(lens)
    expect(await names()).toContain('Taken back')

    expect(await remove(lens.id)).toBe(204)
    const { body: other } = await t.call('POST', `${site}/lenses`, { ...input, name: 'Taken back' })
    const late = await t.call('POST', `${site}/lenses/${lens.id}/restore`)
    expect([late.status, late.body.title]).toEqual([409, 'There is a lens called Taken back already.'])
    expect((await t.call('POST', `${site}/lenses/999999/restore`)).status).toBe(404)
    expect(await remove(other.id)).toBe(204)
  })

  it.each([
    ['no name', { name: '' }, 'name'],
    ['a window of no size', { device: { ...input.device, viewportWidth: 0 } }, 'viewportWidth'],
    ['a processor from the future', { device: { ...input.device, cpuSlowdown: 0.5 } }, 'cpuSlowdown'],
    ['a cookie that is none', { visitor: { kind: 'cookie', cookie: 'x' } }, 'cookie'],
    ['a form without fields', { visitor: { kind: 'form', path: '/sign-in' } }, 'fields'],
    ['a form of another site', { visitor: { kind: 'form', path: '//else.example', fields: { a: 'b' } } }, 'path'],
  ])('with %s are refused, and the field is named', async (_, part, field) => {
    const { status, body } = await t.call('POST', `${site}/lenses`, { ...input, ...part })
    expect(status === 400 || status === 422).toBe(true)
    expect(JSON.stringify(body)).toContain(field)
    expect((await t.call('GET', `${site}/lenses`)).body).toHaveLength(FIRST_LENSES.length)
  })

  it('have their sign-in form looked for and tried, before anything relies on it', async () => {
    const found = await t.call('POST', `${site}/lenses/sign-in-form`, { page: '/sign-in' })
    expect(found.body).toEqual({
      page: '/sign-in',
      path: '/sign-in',
      fields: [
        { name: 'name', label: 'Name', secret: false },
        { name: 'word', label: 'Word', secret: true },
      ],
      hidden: ['to'],
    })
    const none = await t.call('POST', `${site}/lenses/sign-in-form`, { page: '/about' })
    expect([none.status, none.body.errors[0].field]).toEqual([422, 'page'])
    const visitor = { kind: 'form', role: 'member', page: '/sign-in', path: '/sign-in' }
    const trial = async (word: string) =>
      (
        await t.call('POST', `${site}/lenses/sign-in-trial`, {
          visitor: { ...visitor, fields: { name: 'member', word } },
        })
      ).body
    expect(await trial('hazel-walk')).toEqual({
      signedIn: true,
      said: 'The site signed the visitor in, with the cookie loam.',
    })
    expect((await trial('wrong')).signedIn).toBe(false)
    for (const untried of [{ kind: 'signed-out' }, { kind: 'cookie', cookie: 'loam=x' }])
      expect((await t.call('POST', `${site}/lenses/sign-in-trial`, { visitor: untried })).status).toBe(422)
  })

  it('keep what signs in where nothing new is entered', async () => {
    const visitor = { kind: 'form', role: 'member', page: '/sign-in', path: '/sign-in' }
    const fields = { name: 'member', word: 'hazel-walk' }
    const named = { ...input, name: 'By the form' }
    const { body: lens } = await t.call('POST', `${site}/lenses`, { ...named, visitor: { ...visitor, fields } })
    expect(lens).toMatchObject({ signInPage: '/sign-in', signInPath: '/sign-in' })
    expect(JSON.stringify(lens)).not.toContain('hazel-walk')
    expect((await t.call('PUT', `${site}/lenses/${lens.id}`, { ...named, cache: 'warm', visitor })).status).toBe(200)
    const again = await t.call('POST', `${site}/lenses/sign-in-trial`, { visitor, lensId: lens.id })
    expect(again.body.signedIn).toBe(true)
    expect((await t.call('POST', `${site}/lenses/sign-in-trial`, { visitor })).status).toBe(422)
  })

  it('decide which pages a sweep reads, and can’t be removed after it', async () => {
    const lens = await t.call('POST', `${site}/lenses`, { ...input, name: 'Signed in' })
    process.env.STANDIN_PAGES = '1000'
    const sweep = await t.call('POST', `${site}/sweeps`, { lensIds: [lens.body.id], repeats: 1 })
    expect(sweep.body).toMatchObject({ lens: 'Signed in', lensId: lens.body.id, pages: 77 })
    await t.call('POST', `/sweeps/${sweep.body.id}/cancel`)
    const open = await t.call('POST', `${site}/sweeps`, { repeats: 1 })
    process.env.STANDIN_PAGES = '8'
    expect(open.body).toMatchObject({ pages: 66 })
    await t.call('POST', `/sweeps/${open.body.id}/cancel`)
    expect((await t.call('DELETE', `${site}/lenses/${lens.body.id}`)).status).toBe(409)
    // A cookie runs out; all else stays as the sweep had it.
    const renewed = { ...input, name: 'Signed in', visitor: { ...input.visitor, cookie: 'loam=newer' } }
    expect((await t.call('PUT', `${site}/lenses/${lens.body.id}`, renewed)).status).toBe(200)
    expect((await t.call('PUT', `${site}/lenses/${lens.body.id}`, { ...renewed, cache: 'warm' })).status).toBe(409)
    expect((await t.call('POST', `${site}/sweeps`, { lensIds: [999_999] })).status).toBe(422)
  })
})
