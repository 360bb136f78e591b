import { measuring, standinForTest } from './standin-client.js'

const skipForm = { id: 'r1', addon: 'enquiry-form', effect: 'skip', place: { level: 'page', path: '/about' } }
const file = (...rules: unknown[]) => ({ format: 'unvelt-rules/1', rules })

let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => (site = await standinForTest()))
afterAll(() => site?.stop())

describe('the connector', () => {
  it('describes itself to anybody and tells the rest only to who has the key', async () => {
    expect((await site.get('/.well-known/unvelt-connector')).json()).toMatchObject({
      protocol: 'unvelt-connector/1',
      base: '/unvelt/v1',
    })
    for (const authorization of ['', 'Bearer wrong', 'Basic test-key'])
      expect(await site.get('/unvelt/v1/inventory', { authorization })).toMatchObject({
        status: 401,
        headers: { 'content-type': 'application/problem+json' },
      })
  })

  it('lists its add-ons, some sixty pages of five kinds, and a register in which every file is really served', async () => {
    const { addOns } = (await site.connector('GET', '/inventory')).json() as { addOns: { slug: string }[] }
    const { pages } = (await site.connector('GET', '/pages')).json() as { pages: { path: string; kind: string }[] }
    const { files } = (await site.connector('GET', '/assets')).json() as { files: Record<string, string> }
    expect(addOns.length).toBeGreaterThanOrEqual(34)
    expect(pages.length).toBeGreaterThanOrEqual(60)
    expect(new Set(pages.map((page) => page.kind)).size).toBe(7)
    const slugs = addOns.map((addOn) => addOn.slug)
    for (const [path, slug] of Object.entries(files)) {
      expect(slugs).toContain(slug)
      expect((await site.get(path)).status).toBe(200)
    }
    // One page of each kind, and those with a block of their own.
    const tried = pages.filter(
      ({ kind, path }, n) => pages.findIndex((p) => p.kind === kind) === n || /wall|film|map|book|basket/.test(path),
    )
    for (const { path, signedIn } of tried) expect((await site.get(path)).status).toBe(signedIn ? 302 : 200)
  })

  it.each([
    ['no version', {}, file(), 428],
    ['a stale version', { 'if-match': '"7"' }, file(), 412],
    ['no JSON', { 'if-match': '"0"' }, '{', 400],
    ['a malformed rule', { 'if-match': '"0"' }, file({ ...skipForm, place: {} }), 422],
    ['an unknown add-on', { 'if-match': '"0"' }, file({ ...skipForm, addon: 'nobody' }), 422],
    ['an effect it can’t carry out', { 'if-match': '"0"' }, file({ ...skipForm, effect: 'local' }), 422],
    ['too large a body', { 'if-match': '"0"' }, 'x'.repeat(5 << 20), 413],
  ])('refuses rules with %s and changes nothing', async (_, headers, body, status) => {
    const answer = await site.connector('PUT', '/rules', body, headers)
    expect(answer).toMatchObject({ status, headers: { 'content-type': 'application/problem+json' } })
    expect((await site.connector('GET', '/rules')).headers.etag).toBe('"0"')
  })

  it('lets one of two puts at once win', async () => {
    const puts = await Promise.all(
      [1, 2].map((n) => site.connector('PUT', '/rules', file({ ...skipForm, id: `r${n}` }), { 'if-match': '"0"' })),
    )
    expect(puts.map((put) => put.status).sort()).toEqual([200, 412])
    expect((await site.connector('GET', '/rules')).headers.etag).toBe('"1"')
  })

  it('serves the stale page until it is purged, and then the page under the rules', async () => {
    await site.connector('PUT', '/rules', file(), { 'if-match': '"1"' })
    await site.connector('POST', '/purge', {})
    expect((await site.get('/about')).headers['x-page-cache']).toBe('miss')
    await site.connector('PUT', '/rules', file(skipForm), { 'if-match': '"2"' })
    const stale = await site.get('/about', measuring('/about', 'cache=serve'))
    expect(stale.headers).toMatchObject({ 'x-page-cache': 'hit', 'unvelt-rules': '2' })
    expect(stale.text).toContain('enquiry-form.js')
    expect((await site.connector('POST', '/purge', { paths: ['/about'] })).json()).toEqual({
      caches: [{ name: 'page cache', purged: 1 }],
    })
    expect((await site.connector('POST', '/warm', { paths: ['/about'] })).json()).toEqual({ warmed: 1 })
    const warm = await site.get('/about', measuring('/about', 'cache=serve'))
    expect(warm.headers).toMatchObject({ 'x-page-cache': 'hit', 'unvelt-rules': '3' })
    expect(warm.text).not.toContain('enquiry-form.js')
    expect((await site.get('/contact')).text).toContain('enquiry-form.js')
  })

  it('makes a page under an older version for a measuring request', async () => {
    const old = await site.get('/about', measuring('/about', 'rules=2, cache=bypass'))
    expect(old.text).toContain('enquiry-form.js')
    expect(old.headers['unvelt-rules']).toBe('2')
    expect((await site.get('/about', measuring('/about', 'rules=99, cache=bypass'))).status).toBe(409)
  })
})

describe('rules in the page’s HTML', () => {
  const under = async (rule: object) => {
    const { headers } = await site.connector('GET', '/rules')
    const version = Number(/\d+/.exec(String(headers.etag))![0])
    const put = await site.connector('PUT', '/rules', file({ id: 'r', place: { level: 'everywhere' }, ...rule }), {
      'if-match': `"${version}"`,
    })
    expect(put.status).toBe(200)
    return (await site.get('/about', measuring('/about', `rules=${version + 1}, cache=bypass`))).text
  }

  it('leave an add-on’s tags out, refuse what scripts would insert, and leave the rest alone', async () => {
    const plain = (await site.get('/about', measuring('/about', 'rules=0, cache=bypass'))).text
    const out = await under({ addon: 'heronmark', effect: 'leave-out' })
    expect(out).not.toContain('count.heronmark.localhost')
    expect(out).toContain('"domains":{"heronmark.localhost":1}')
    const [, stopper = ''] = /<head>(<script>.*?<\/script>)/s.exec(out)!
    const [tag = ''] = /<script async src="[^"]*heronmark[^"]*"><\/script>/.exec(plain)!
    expect(out.replace(stopper, '')).toBe(plain.replace(tag, ''))
  })

  it('hold, put off and connect early', async () => {
    expect(await under({ addon: 'pass-it-on', effect: 'hold', until: 'input' })).toMatch(
      /<script [^>]*data-unvelt-until="input"[^>]*data-unvelt-src="\/add-ons\/pass-it-on/,
    )
    expect(await under({ addon: 'canopy-slider', effect: 'order', order: 'defer' })).toContain(
      '<script defer src="/add-ons/canopy-slider/canopy-slider.js">',
    )
    expect(await under({ addon: 'letterloft-fonts', effect: 'hint' })).toMatch(
      /<head><link rel="preconnect" href="http:\/\/letterloft\.localhost:\d+">/,
    )
    expect(await under({ addon: 'letterloft-fonts', effect: 'system-font' })).not.toMatch(
      /letterloft\.localhost:\d+\/faces/,
    )
  })
})

describe('measuring requests', () => {
  it('are told where the time goes; self times stay within the total', async () => {
    const { headers } = await site.get('/plan-a-visit', measuring('/plan-a-visit'))
    const timing = String(headers['server-timing'])
    const ms = (name: string) => Number(new RegExp(`(?:^|, )${name};dur=([\\d.]+)`).exec(timing)?.[1])
    const names = ['cms', 'addon\\.walk-almanac', 'addon\\.seek-helper']
    expect(names.reduce((sum, name) => sum + ms(name), 0)).toBeLessThanOrEqual(ms('total'))
    expect(ms('addon\\.seek-helper')).toBeGreaterThan(ms('addon\\.walk-almanac'))
    expect(timing).toMatch(/addon\.walk-almanac\.db;dur=[\d.]+;desc="12"/)
  })

  it.each([
    ['no signature', {}],
    ['another path’s signature', measuring('/contact')],
    ['another key’s signature', measuring('/about', undefined, 'other')],
    ['a signature that is over', measuring('/about', undefined, undefined, 1000)],
    ['a signature for ever', measuring('/about', undefined, undefined, 99_999_999_999)],
  ])('with %s are visitors', async (_, headers) => {
    const answer = await site.get('/about', headers)
    expect(answer.headers['server-timing']).toBeUndefined()
    expect(answer.headers['unvelt-rules']).toBeUndefined()
  })
})

describe('outsiders', () => {
  it('redirect, and send the fonts that the page asks for', async () => {
    const tag = await site.get('/m.js', {}, 'count.heronmark.localhost')
    expect(tag).toMatchObject({ status: 302 })
    expect(tag.headers.location).toMatch(/^http:\/\/cdn\.heronmark\.localhost:\d+\//)
    const faces = await site.get('/faces.css?serif=400,990', {}, 'letterloft.localhost')
    expect(faces.text.match(/@font-face/g)).toHaveLength(1)
    expect((await site.get('/f/serif-400.woff2', {}, 'letterloft.localhost')).status).toBe(200)
  })

  it('are nobody under another name', async () => expect((await site.get('/', {}, 'else.localhost')).status).toBe(421))
})
