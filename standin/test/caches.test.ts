import { measuring, standinForTest } from './standin-client.js'

let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => void (site = await standinForTest()))
afterAll(() => site?.stop())

const PHONE = { 'user-agent': 'Mozilla/5.0 (Linux; Android 16) Mobile' }
const set = (slug: string, body: object) => site.connector('PUT', `/add-ons/${slug}/features`, body)
const purge = (paths?: string[]) => site.connector('POST', '/purge', paths ? { paths } : {})
const cache = async (path: string, headers = {}) => (await site.get(path, headers)).headers['x-page-cache']

describe('the page cache', () => {
  it('keeps a copy for each device, and says how old it is', async () => {
    expect([await cache('/donate'), await cache('/donate'), await cache('/donate', PHONE)]).toEqual([
      'miss',
      'hit',
      'miss',
    ])
    expect(Number((await site.get('/donate')).headers.age)).toBeGreaterThanOrEqual(0)
  })

  it('keeps nothing that is another for each visitor, and nothing when it is off', async () => {
    expect([await cache('/shop/basket'), await cache('/shop/basket')]).toEqual(['pass', 'pass'])
    await set('larder', { features: { 'page-cache': false } })
    expect(await cache('/donate')).toBe('pass')
    await set('larder', { features: { 'page-cache': true } })
  })

  it('purges every query of a path with it', async () => {
    await site.get('/archive?from=letter')
    await purge(['/archive'])
    expect(await cache('/archive?from=letter')).toBe('miss')
  })

  it('makes its pages anew by itself after a purge, when it is told to', async () => {
    await set('larder', { features: { preload: true } })
    await site.get('/about')
    await purge(['/about'])
    // The answer waits for the same page cache, so asking until it is there needs no clock.
    let state = await cache('/about', PHONE)
    for (let asked = 0; state !== 'hit' && asked < 200; asked++) state = await cache('/about')
    expect(state).toBe('hit')
    await set('larder', { features: { preload: false } })
  })
})

describe('glued files', () => {
  const glue = (on: boolean) => set('press-together', { features: { 'glue-scripts': on, 'glue-styles': on } })
  const gluedOf = (html: string) => [...html.matchAll(/"(\/cache\/glued\/[^"]+)"/g)].map((m) => m[1]!)

  it('are one file for many, whose parts the register tells, and go with a purge', async () => {
    const page = () => site.get('/accessibility', measuring('/accessibility')).then(({ text }) => text)
    const plain = await page()
    await glue(true)
    const glued = gluedOf(await page())
    expect(glued.length).toBeGreaterThan(0)
    expect((await page()).match(/<script src=/g)!.length).toBeLessThan(plain.match(/<script src=/g)!.length / 4)
    const { glued: parts } = (await site.connector('GET', '/assets')).json() as {
      glued: Record<string, { path: string; addon: string; from: number; bytes: number }[]>
    }
    for (const path of glued) {
      const whole = Buffer.from((await site.get(path)).text)
      expect(parts[path]!.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(whole.length)
      for (const { path: part, from, bytes } of parts[path]!.slice(0, 5))
        expect(whole.subarray(from, from + bytes).toString()).toContain((await site.get(part)).text)
    }
    await site.get('/accessibility')
    const served = gluedOf((await site.get('/accessibility')).text)
    await purge()
    expect((await site.get(served[0]!)).status).toBe(404)
    await glue(false)
  })
})

describe('the other caches', () => {
  it('serves the old generated style until it is purged, whatever the theme is set to', async () => {
    const style = async () => (await site.get('/generated/hollow.css')).text
    expect(await style()).toContain('border-radius:4px')
    await set('hollow', { settings: { 'corner-radius': 12 } })
    expect(await style()).toContain('border-radius:4px')
    expect((await purge()).json()).toMatchObject({ caches: [{}, {}, { name: 'generated styles', purged: 1 }] })
    expect(await style()).toContain('border-radius:12px')
  })

  it('a delivery host goes on with the old file, and no purge reaches it', async () => {
    const file = '/add-ons/code-colours/pack-text.js'
    const delivered = () => site.get(file, {}, 'files.fernhollow.localhost')
    const old = await delivered()
    expect(old.headers['x-proxy-cache']).toBe('miss')
    await site.connector('POST', '/add-ons/code-colours/install', { version: '4.1.0' })
    await purge()
    const kept = await delivered()
    expect(kept.headers['x-proxy-cache']).toBe('hit')
    expect(kept.text).toBe(old.text)
    expect((await site.get(file)).text).not.toBe(old.text)
    expect((await site.get('/nothing.js', {}, 'files.fernhollow.localhost')).status).toBe(404)
  })

  it('can be told to send files as they are, and not for keeping', async () => {
    const file = () => site.get('/add-ons/pass-it-on/pass-it-on.js', { 'accept-encoding': 'gzip' })
    expect((await file()).headers).toMatchObject({
      'content-encoding': 'gzip',
      'cache-control': 'public, max-age=86400',
    })
    await set('larder', { features: { compression: false, 'static-caching': false } })
    const { headers } = await file()
    expect(headers['content-encoding']).toBeUndefined()
    expect(headers['cache-control']).toBe('no-store')
    await set('larder', { features: { compression: true, 'static-caching': true } })
  })
})

describe('scratch pages', () => {
  it('are a copy that is in no list, and cannot open what is closed', async () => {
    const { path } = (await site.connector('POST', '/scratch', { like: '/donate' })).json() as { path: string }
    const { text, status } = await site.get(path)
    expect([status, text.includes('noindex'), text.includes('A tree for forty years')]).toEqual([200, true, true])
    expect((await site.connector('GET', '/pages')).text).not.toContain(path)
    expect((await site.connector('POST', '/scratch', { like: '/members' })).status).toBe(422)
    expect((await site.connector('POST', '/scratch', { like: '/nowhere' })).status).toBe(404)
    await site.connector('POST', '/scratch/remove', { path })
    expect((await site.get(path)).status).toBe(404)
  })
})
