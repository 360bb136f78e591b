import { randomUUID } from 'node:crypto'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { signInFormOf } from '../src/site-http/sign-in-form.js'
import type { LensSettings } from '../src/lens/lens-settings.js'
import { failureSentence } from '../src/reading/failure.js'
import { signIn } from '../src/site-http/sign-in.js'
import { seal } from '../src/site-http/secret-box.js'

const SECRET = Buffer.alloc(32, 3)
const form = (token: string, action = '/session') => `<!doctype html><form action="/find"><input name="q"></form>
  <form method="post" action="${action}"><input type="hidden" name="token" value="${token}">
  <label>Your name <input name="who"></label><label for="w">Your word</label><input id="w" type="password" name="word">
  <button name="go" value="in">Come in</button></form>`

/** A site that takes its form once only: with the token it has just handed out, and with the cookie it has set with it. */
let server: Server
let origin: string
/** What the form of /sly is sent to. */
let sly = ''
const handedOut = new Set<string>()
beforeAll(async () => {
  server = createServer(async (request, response) => {
    const { pathname } = new URL(request.url!, 'http://site.localhost')
    const show = (status: number, html: string, headers: Record<string, string | string[]> = {}) =>
      response.writeHead(status, { 'content-type': 'text/html; charset=utf-8', ...headers }).end(html)
    if (pathname === '/old-door') return show(302, '', { location: '/door' })
    if (pathname === '/sly') return show(200, form('x', sly))
    if (pathname === '/stranger') return show(200, form('x', 'http://elsewhere.localhost/session'))
    if (pathname === '/door') {
      const token = randomUUID()
      handedOut.add(token)
      return show(200, form(token), { 'set-cookie': [`visit=${token}; Path=/`, 'gone=1; Max-Age=0'] })
    }
    if (pathname !== '/session' || request.method !== 'POST') return show(404, 'Nothing here.')
    let body = ''
    for await (const chunk of request) body += chunk
    const sent = new URLSearchParams(body)
    const token = sent.get('token') ?? ''
    const isFresh = handedOut.delete(token) && request.headers.cookie?.includes(`visit=${token}`)
    if (!isFresh || sent.get('go') !== 'in') return show(403, 'Too late.')
    if (sent.get('word') === 'back') return show(303, '', { location: '/door?wrong=1' })
    if (sent.get('who') !== 'hazel' || sent.get('word') !== 'walk') return show(200, form('again'))
    show(303, '', { location: '/members', 'set-cookie': 'pass=1; Path=/members; HttpOnly' })
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  origin = `http://site.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  server?.closeAllConnections()
  await new Promise((resolve) => server?.close(resolve))
})

const visitor = (fields: Record<string, string>, page?: string): Pick<LensSettings, 'visitor'> => ({
  visitor: {
    kind: 'form',
    role: 'member',
    path: '/session',
    ...(page && { page }),
    sealed: seal(JSON.stringify(fields), SECRET),
  },
})
const signedIn = (fields: Record<string, string>, page?: string) =>
  signIn(origin, visitor(fields, page), SECRET, 'anywhere').then(String, failureSentence)

describe('a sign-in form', () => {
  it('is the one that asks for one password, with what stands beside its fields', () => {
    const twice = '<form action="/join"><input type="password" name="a"><input type="password" name="b"></form>'
    expect(signInFormOf(twice + form('t1'), 'http://site.test/door')).toEqual({
      action: 'http://site.test/session',
      fields: [
        { name: 'who', label: 'Your name', secret: false },
        { name: 'word', label: 'Your word', secret: true },
      ],
      hidden: { token: 't1', go: 'in' },
    })
    expect(signInFormOf(twice, 'http://site.test/')).toBeNull()
    expect(signInFormOf(form('t1', 'http://['), 'http://site.test/')).toBeNull()
  })

  it('is sent to its own page where it says nothing else, and its fields are named by what they have', () => {
    const bare =
      '<form><input aria-label="Mail" name="m"><input placeholder="Word" type=PASSWORD name=w><input name="x">'
    expect(signInFormOf(bare, 'http://site.test/in?to=1')).toEqual({
      action: 'http://site.test/in?to=1',
      fields: [
        { name: 'm', label: 'Mail', secret: false },
        { name: 'w', label: 'Word', secret: true },
        { name: 'x', label: 'x', secret: false },
      ],
      hidden: {},
    })
  })
})

describe('signing in by a form', () => {
  it('reads it anew each time, with what the site fills in, and keeps the cookies of the whole visit', async () => {
    for (const page of ['/door', '/old-door', '/door']) {
      const cookies = await signedIn({ who: 'hazel', word: 'walk' }, page)
      expect(cookies).toMatch(/^visit=[0-9a-f-]{36}; pass=1$/)
    }
  })

  it.each([
    ['a wrong word', 'wrong', '/door', 'Signing in failed: /session answered 200 and showed its form again.'],
    ['a way back to the form', 'back', '/door', 'Signing in failed: /session answered 303 and led back to its form.'],
    ['no form', 'walk', '/lost', '/lost answered 404, without a form that asks for one password.'],
    ['another site’s form', 'walk', '/stranger', 'The form of /stranger is sent to another site, elsewhere.localhost.'],
    ['a form described by hand', 'walk', undefined, 'Signing in failed: /session answered 403 and set no cookie.'],
  ])('fails with %s, and says why', async (_, word, page, sentence) =>
    expect(await signedIn({ who: 'hazel', word }, page)).toBe(sentence),
  )
})

describe('a kept password', () => {
  /** Somebody else's server, which writes down whatever comes. */
  let thief: Server
  let at: string
  const taken: string[] = []
  beforeAll(async () => {
    thief = createServer((request, response) => {
      taken.push(request.url!)
      request.resume()
      response.writeHead(303, { location: '/', 'set-cookie': 'pass=1' }).end()
    })
    await new Promise<void>((resolve) => thief.listen(0, '127.0.0.1', resolve))
    at = `127.0.0.1:${(thief.address() as AddressInfo).port}`
  })
  afterAll(() => new Promise((resolve) => thief.close(resolve)))

  const toPath = (path: string) => {
    const sealed = seal(JSON.stringify({ who: 'hazel', word: 'walk' }), SECRET)
    return signIn(origin, { visitor: { kind: 'form', role: 'member', path, sealed } }, SECRET, 'anywhere').then(
      String,
      failureSentence,
    )
  }

  it.each(['/\t/AT/x', '/\n/AT/x', '//AT/x', '/\\AT/x', '\\\\AT/x', 'http://AT/x', '/\r\n/AT', 'http:\\\\AT'])(
    'is not sent to %j',
    async (path) => {
      expect(await toPath(path.replace('AT', at))).toContain('is no address of site.localhost')
      expect(taken).toEqual([])
    },
  )

  it.each(['/x/..//AT/steal', '//AT/steal', '/\\AT/steal', '/\t/AT/steal', 'http://AT/steal'])(
    'is not sent where a form of the site’s own says so: %j',
    async (action) => {
      sly = action.replace('AT', at)
      expect(await signedIn({ who: 'hazel', word: 'walk' }, '/sly')).toMatch(/sent to another site|answered 404/)
      expect(taken).toEqual([])
    },
  )
})
