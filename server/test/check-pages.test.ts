import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import type { PageRow } from '../src/page/page.model.js'
import { checkPages } from '../src/rule/deployment/check-pages.js'
import { SiteRow } from '../src/site/site.model.js'
import { appForTest } from './app-for-test.js'

/** What each path answers: a status, and by which rules it was made; `before` the change where that differs. */
const ANSWERS: Record<string, { status: number; rules?: string; before?: number }> = {
  '/new': { status: 200, rules: '2' },
  '/old': { status: 200, rules: '1' },
  '/members': { status: 302 },
  '/closed': { status: 403 },
  '/gone': { status: 404 },
  '/broken': { status: 500, before: 200 },
  '/always-broken': { status: 500, before: 500 },
}

let t: Awaited<ReturnType<typeof appForTest>>
let plain: PlainSite
let server: Server
let site: SiteRow
beforeAll(async () => {
  t = await appForTest()
  plain = await plainSite()
  const { body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true, local: true })
  site = (await SiteRow.findByPk(body.id))!
  server = createServer((request, response) => {
    const { status, rules, before } = ANSWERS[request.url!]!
    const isBefore = /rules=1\b/.test(String(request.headers['unvelt-measure']))
    if (rules) response.setHeader('unvelt-rules', rules)
    if (status === 302) response.setHeader('location', '/sign-in')
    response.writeHead(isBefore ? (before ?? status) : status).end()
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  site.address = `http://checked.localhost:${(server.address() as AddressInfo).port}`
})
afterAll(async () => {
  server?.closeAllConnections()
  server?.close()
  await t?.stop()
  await plain?.stop()
})

it('what a visitor can’t see is said to be unseen, and only what is old or newly broken speaks against a change', async () => {
  const pages = Object.keys(ANSWERS).map((path) => ({ path, area: 'public', signedIn: false }) as unknown as PageRow)
  const checked = await checkPages({ site, key: 'key', secret: Buffer.alloc(32) }, pages, { version: 2, before: 1 })
  expect(Object.fromEntries(checked.map(({ path, outcome }) => [path, outcome]))).toEqual({
    '/new': 'new',
    '/old': 'old',
    '/members': 'unseen',
    '/closed': 'unseen',
    '/gone': 'unseen',
    '/broken': 'broken',
    '/always-broken': 'unseen',
  })
})

it('pages for people who sign in are unseen where no lens signs in', async () => {
  const page = { path: '/new', area: 'office', signedIn: true } as unknown as PageRow
  const [checked] = await checkPages({ site, key: 'key', secret: Buffer.alloc(32) }, [page], { version: 2, before: 1 })
  expect(checked).toMatchObject({ outcome: 'unseen', why: expect.stringContaining('no lens') })
})
