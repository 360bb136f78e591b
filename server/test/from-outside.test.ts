import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { Sequelize } from 'sequelize'
import type { AddOn, Ledger, Page } from '@unvelt/contract'
import { OTTERS, plainSite, REEDS, type PlainSite } from '../../testing/plain-site.js'
import { siteName, withoutSiteName } from '../src/from-outside/site-name.js'
import { launchBrowser } from '../src/browser/browser.js'
import { runPageJob } from '../src/worker/page-job.js'
import { aHold, workerTools } from './worker-tools.js'
import { appForTest } from './app-for-test.js'
import { ledgerCells } from './ledger-cells.js'

let t: Awaited<ReturnType<typeof appForTest>>
let browser: Browser
let plain: PlainSite
let site: string

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  plain = await plainSite()
})
afterAll(async () => {
  await browser?.close()
  await plain?.stop()
  await t?.stop()
})

const pages = async (): Promise<Page[]> => (await t.call('GET', `${site}/pages`)).body
const paths = async () => (await pages()).map(({ path }) => path)

describe('a site without a connector', () => {
  it('is refused as one that has one, with what to do', async () => {
    const { status, body } = await t.call('POST', '/sites', { address: plain.address, local: true })
    expect(status).toBe(422)
    expect(body.title).toContain('has no connector')
  })

  it('is not looked at where it is not allowed to be reached', async () => {
    const before = plain.asked.length
    const { status, body } = await t.call('POST', '/sites', { address: plain.address, withoutConnector: true })
    expect(status).toBe(422)
    expect(JSON.stringify(body.errors)).toContain('local')
    expect(plain.asked).toHaveLength(before)
  })

  it('has the pages that its links lead to, and nothing is done by following them', async () => {
    const { status, body } = await t.call('POST', '/sites', {
      address: plain.address,
      withoutConnector: true,
      local: true,
    })
    expect(status).toBe(201)
    expect(body).toMatchObject({
      name: 'Millpond Society',
      hasConnector: false,
      pagesFrom: 'links',
      // What core's rewriter can do to any page.
      effects: ['leave-out', 'hold', 'order', 'system-font', 'keep'],
    })
    site = `/sites/${body.id}`
    expect((await pages()).map(({ path, kind, title }) => [path, kind, title])).toEqual([
      ['/', 'page', 'Home'],
      ['/news/ice', 'news', 'Ice'],
      ['/about', 'page', 'About'],
      ['/news/otters', 'news', 'Otters'],
      ['/deep', 'page', 'Deep'],
    ])
    expect(plain.asked).not.toContain('/sign-out')
    expect(plain.asked).not.toContain('/map.pdf')
  })

  it('is known by its sitemap once it has one; what it does not list any more is swept no more', async () => {
    plain.hasSitemap = true
    expect((await t.call('POST', `${site}/refresh`)).body).toMatchObject({ pagesFrom: 'sitemap', pages: 4 })
    expect(await paths()).toEqual(['/', '/about', '/news/ice', '/news/otters'])
  })

  it('takes pages that the maintainer names, all or none', async () => {
    const wrong = await t.call('POST', `${site}/pages`, { addresses: ['/deep', 'http://elsewhere.localhost/x'] })
    expect(wrong.status).toBe(422)
    expect(wrong.body.title).toContain('Line 2')
    expect(await paths()).not.toContain('/deep')
    const named = await t.call('POST', `${site}/pages`, { addresses: ['/deep', `${plain.address}/news/reeds`] })
    expect(named.body.map(({ path, kind }: Page) => [path, kind])).toEqual([
      ['/deep', 'page'],
      ['/news/reeds', 'news'],
    ])
    const reeds = named.body[1].id
    await t.call('POST', `${site}/refresh`)
    expect(await paths()).toContain('/deep')
    const forgotten = await fetch(`${await t.app.getUrl()}/api${site}/pages/${reeds}`, { method: 'DELETE' })
    expect(forgotten.status).toBe(204)
    expect(await paths()).not.toContain('/news/reeds')
  })

  it('is swept, and its code becomes entries by folder and by outsider', async () => {
    const ids = (await pages()).slice(0, 2).map(({ id }) => id)
    const { body: sweep } = await t.call('POST', `${site}/sweeps`, { pageIds: ids, repeats: 1 })
    const tools = workerTools(t.app.get(Sequelize), { browser })
    for (const pageId of ids) await runPageJob(tools, { sweepId: sweep.id, pageId }, aHold)
    const ledger: Ledger = (await t.call('GET', `${site}/ledger`)).body
    expect(ledger.sweep).toMatchObject({ status: 'done', readingsFailed: 0 })
    const gallery = 'own:/parts/heron-gallery/'
    expect(ledger.payers.map(({ slug }) => slug).sort()).toEqual(
      expect.arrayContaining([gallery, 'own:/look/pond/', 'outside:stranger.localhost', 'content']),
    )
    const cells = await ledgerCells(t, site, ledger)
    expect(ledger.pages.map(({ title }) => title)).toContain('About')
    expect(cells.row(gallery, 'requests')).toEqual([1, 1])
    expect(cells.row('unassigned', 'requests').every((requests) => requests === 0)).toBe(true)
    expect(Math.min(...cells.row(gallery, 'idleBytes'))).toBeGreaterThan(0)
    // A file that was glued together is split by the source map that it names.
    const glued = cells.row('glued', 'requests')
    expect(glued).toEqual([1, 1])
    const comment = '\n//# sourceMappingURL=all.js.map'
    expect(cells.row('own:/parts/reed-slider/', 'decodedBytes')).toEqual([REEDS.length + 1, REEDS.length + 1])
    const tail = OTTERS.length + comment.length
    expect(cells.row('own:/parts/otter-tabs/', 'decodedBytes')).toEqual([tail, tail])
    // What was pasted is known on the page that was read before anybody could know, too.
    const snippet = ledger.payers.filter(({ slug }) => slug.startsWith('inline:'))
    expect(snippet).toHaveLength(1)
    expect(cells.row(snippet[0]!.slug, 'decodedBytes')).toHaveLength(2)
    const addOns: AddOn[] = (await t.call('GET', `${site}/add-ons`)).body
    expect(addOns.find(({ slug }) => slug === gallery)).toMatchObject({
      name: '/parts/heron-gallery/',
      source: 'reading',
    })
    expect(addOns.find(({ slug }) => slug === snippet[0]!.slug)).toMatchObject({ kind: 'snippet', source: 'reading' })
    expect((await t.call('GET', `${site}/add-ons/${encodeURIComponent(gallery)}`)).status).toBe(200)
  })

  it('holds drafts on what was found in it, and none of them goes live', async () => {
    const rule = { addon: 'own:/look/pond/', effect: 'leave-out', place: { level: 'everywhere' } }
    const drafted = (more: object) => t.call('POST', `${site}/drafts`, { rules: [{ ...rule, ...more }] })
    expect((await drafted({ effect: 'skip' })).body.title).toMatch('can’t carry out skip')
    expect((await drafted({ addon: 'content' })).body.title).toMatch('no add-on')
    const { status, body } = await drafted({})
    expect(status).toBe(200)
    expect(body.rules).toMatchObject([{ addon: 'own:/look/pond/', effect: 'leave-out' }])
    expect(body.prediction.saved.requests).toBeGreaterThan(0)
    const refused = await t.call('POST', `${site}/rules/put-live`, { unrehearsed: 'a test' })
    expect(refused.status).toBe(409)
    expect(refused.body.title).toMatch('no connector')
    await t.call('DELETE', `${site}/drafts`)
  })
})

describe('the name of a site', () => {
  it.each([
    ['what its titles share', 'Home – Millpond', ['Ice – Millpond'], 'Millpond'],
    ['the same before the page’s own', 'Millpond | Home', ['Millpond | Ice'], 'Millpond'],
    ['the whole title where they share nothing', 'Welcome - to all', ['Ice'], 'Welcome - to all'],
  ])('is %s', (_, front, others, name) => expect(siteName(front, others)).toBe(name))

  it.each([
    ['Ice – Millpond', 'Ice'],
    ['Millpond | Ice', 'Ice'],
    ['Millpond', 'Millpond'],
    ['Ice on Millpond', 'Ice on Millpond'],
  ])('is taken off %s', (title, rest) => expect(withoutSiteName(title, 'Millpond')).toBe(rest))
})
