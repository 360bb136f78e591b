import { measuring, standinForTest, type Answer } from './standin-client.js'

let site: Awaited<ReturnType<typeof standinForTest>>
beforeAll(async () => void (site = await standinForTest()))
afterAll(() => site?.stop())

const cookieOf = ({ headers }: Answer) => String([headers['set-cookie'] ?? ''].flat()[0]).split(';')[0]!
const signIn = async (name: string, word: string) => ({
  cookie: cookieOf(await site.post('/sign-in', { name, word, to: '/members' })),
})

describe('signing in', () => {
  it('opens the members’ area to members, and the back office to editors only', async () => {
    const member = await signIn('member', 'hazel-walk')
    const editor = await signIn('editor', 'gatehouse')
    expect((await site.get('/members')).headers.location).toBe('/sign-in?to=%2Fmembers')
    expect((await site.get('/members', member)).text).toContain('opens the north gate')
    expect((await site.get('/office', member)).status).toBe(302)
    expect((await site.get('/office', editor)).text).toContain('orders to be packed')
  })

  it('refuses a wrong word, a forged cookie and a way to another site', async () => {
    expect((await site.post('/sign-in', { name: 'editor', word: 'wrong' })).headers.location).toMatch(/wrong=1/)
    expect((await site.get('/office', { cookie: 'loam=editor.9999999999.00' })).status).toBe(302)
    for (const to of ['http://else.example/', '//else.example', '/\\else.example'])
      expect((await site.post('/sign-in', { name: 'editor', word: 'gatehouse', to })).headers.location).toBe('/members')
  })

  it('signs out again', async () => {
    expect([(await site.get('/sign-out')).headers['set-cookie']].flat()[0]).toMatch(/^loam=; .*Max-Age=0/)
  })
})

describe('the back office', () => {
  it('has eight pages, each with data of its own', async () => {
    const editor = await signIn('editor', 'gatehouse')
    const has: Record<string, string> = {
      '/office': 'Most seen',
      '/office/content': 'The lime that leans',
      '/office/editor?path=/about': 'value="About the arboretum"',
      '/office/media': '/media/tree-3.svg',
      '/office/add-ons': 'Grove Builder',
      '/office/settings': 'Banner Rotor',
      '/office/menus': 'Entry 1',
      '/office/orders': 'Customer 1',
    }
    for (const [path, text] of Object.entries(has)) expect((await site.get(path, editor)).text).toContain(text)
  })

  it('saves what an editor writes, lets the link checker have its say, and shows the page anew', async () => {
    const editor = await signIn('editor', 'gatehouse')
    await site.get('/privacy')
    const form = { path: '/privacy', title: 'Privacy', lead: 'We keep little.' }
    expect((await site.post('/office/editor', form)).status).toBe(403)
    const saved = await site.post('/office/editor', form, { ...editor, ...measuring('/office/editor') })
    expect(saved.status).toBe(303)
    expect(String(saved.headers['server-timing'])).toMatch(/addon\.link-warden\.db;dur=[\d.]+;desc="1"/)
    expect((await site.get('/privacy')).text).toContain('We keep little.')
    expect((await site.post('/office/editor', { ...form, title: '' }, editor)).status).toBe(422)
    expect((await site.post('/office/editor', { ...form, path: '/nowhere' }, editor)).status).toBe(404)
  })

  it('takes a block out of a page, for good', async () => {
    const editor = await signIn('editor', 'gatehouse')
    const uses = async () =>
      ((await site.connector('GET', '/use-evidence?from=0')).json() as { uses: { path: string; through: string }[] })
        .uses
    const use = (await uses()).find(({ through }) => through.startsWith('[[walks'))!
    expect((await site.get(`/office/editor?path=${use.path}`, editor)).text).toContain('Take out of the page')
    const form = { path: use.path, title: 'A page', lead: '', drop: use.through }
    expect((await site.post('/office/editor', form, editor)).status).toBe(303)
    expect((await site.post('/office/editor', { ...form, drop: 'no block' }, editor)).status).toBe(303)
    expect(await uses()).not.toContainEqual(use)
  })

  it('loses its menu to a rule that was meant for visitors', async () => {
    const editor = await signIn('editor', 'gatehouse')
    const menu = '<nav aria-label="Back office">'
    expect((await site.get('/office', editor)).text).toContain(menu)
    const put = async (place: object) => {
      const { headers } = await site.connector('GET', '/rules')
      const rules = [{ id: 'r', addon: 'bramble-menu', effect: 'skip', place }]
      const answer = await site.connector(
        'PUT',
        '/rules',
        { format: 'unvelt-rules/1', rules },
        { 'if-match': String(headers.etag) },
      )
      expect(answer.status).toBe(200)
    }
    await put({ level: 'everywhere' })
    expect((await site.get('/office', editor)).text).not.toContain(menu)
    await put({ level: 'area', area: 'public' })
    expect((await site.get('/office', editor)).text).toContain(menu)
  })
})

describe('forms', () => {
  it('put seed in a basket, and order it once', async () => {
    const first = await site.post('/forms/basket', { seed: 'foxglove' })
    const basket = { cookie: cookieOf(first) }
    await site.post('/forms/basket', { seed: 'foxglove' }, basket)
    expect((await site.get('/shop/basket', basket)).text).toContain('<td>Foxglove</td><td>2</td>')
    expect((await site.get('/shop/basket')).text).toContain('The basket is empty')
    const order = () => site.post('/forms/order', { name: 'Maud', street: 'Weir Street' }, basket)
    expect((await order()).headers.location).toBe('/thanks?for=order')
    expect((await order()).status).toBe(422)
    expect((await site.get('/shop/basket', basket)).text).toContain('The basket is empty')
  })

  it.each([
    ['/forms/enquiry', { Name: 'Maud', Email: 'maud@example.org', Message: 'Is the gate open?' }, 303],
    ['/forms/enquiry', { Name: 'Maud', Email: '', Message: 'Is the gate open?' }, 422],
    ['/forms/enquiry', { Name: 'Maud', Email: 'maud@example.org', Message: 'Best casino of all' }, 422],
    ['/forms/comment', { author: 'Maud', words: 'I remember.' }, 303],
    ['/forms/comment', { author: 'Maud', words: 'http: http: http:' }, 422],
    ['/forms/tickets', { day: new Date().toISOString().slice(0, 10), party: '2' }, 303],
    ['/forms/tickets', { day: new Date().toISOString().slice(0, 10), party: '99' }, 422],
    ['/forms/letters', { email: 'maud@example.org' }, 303],
    ['/forms/letters', { email: 'maud' }, 422],
    ['/forms/gift', { amount: '40' }, 303],
    ['/forms/gift', { amount: '-1' }, 422],
    ['/forms/basket', { seed: 'no-such-seed' }, 422],
    ['/forms/nobody', {}, 404],
  ])('%s with %j answers %i', async (path, form, status) => {
    expect((await site.post(path, form)).status).toBe(status)
  })

  it('refuse a form that is too large', async () => {
    expect((await site.post('/forms/comment', { author: 'M', words: 'x'.repeat(100_000) })).status).toBe(413)
  })

  it('find pages by their words, and nothing of the members’', async () => {
    const { text } = await site.get('/search?q=owls')
    expect(text).toContain('href="/articles/owls"')
    expect((await site.get('/search?q=north+gate')).text).toContain('0 pages for')
    expect((await site.get('/search?q=%3Cscript%3E')).text).not.toContain('“<script>')
  })

  it('list every article in the archive', async () => {
    const { text } = await site.get('/archive')
    expect(text.match(/<li><a href="\/articles\//g)).toHaveLength(20)
  })
})
