import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import type { NowhereView } from '@unvelt/contract'
import { plainSite, type PlainSite } from '../../testing/plain-site.js'
import { launchBrowser } from '../src/browser/browser.js'
import { connect } from '../src/database/connect.js'
import { rangesOf } from '../src/nowhere/looked-for.js'
import { ScriptWords } from '../src/nowhere/script-words.js'
import { OnDemandRow } from '../src/on-demand/on-demand.model.js'
import { runPageJob } from '../src/worker/page-job.js'
import { runReadOnDemand } from '../src/worker/read-on-demand.js'
import { appForTest } from './app-for-test.js'
import { aHold, workerTools } from './worker-tools.js'

/** What of a site's stylesheets no page has used, held against what a real browser applied. */
const CSS = `h1 { color: navy }
.mill-wheel { color: red }
a:hover { color: teal }
.pond-lost a:hover { color: red }
form .field-error { color: plum }
.heron-later { color: green }
@media print { h1 { color: black } }
@media (max-width: 20px) { h1 { margin: 0 } }
@font-face { font-family: Reed; src: url(none.woff2) }
.only-on-deep { margin: 3px }
`
const GALLERY = `var later = 'heron-later'
function start() { return later }
function forgotten() { return helper() }
function helper() { return 'grün' }
function pressed() { return 1 }
addEventListener('scroll', function () { later = '' })
start()
`
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let plain: PlainSite
let site: string
let siteId: number
beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  plain = await plainSite()
  plain.replaced.set('/look/pond/pond.css', CSS)
  plain.replaced.set('/parts/heron-gallery/js/gallery.js', GALLERY)
  plain.gate = (html) =>
    html.replace(
      '<h1>',
      `${html.includes('<title>Deep') ? '<p class="only-on-deep">x</p>' : ''}<h1 onclick="pressed()">`,
    )
  const { body } = await t.call('POST', '/sites', { address: plain.address, local: true, withoutConnector: true })
  siteId = body.id
  site = `/sites/${siteId}`
}, 300_000)
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
  await plain?.stop()
})

async function sweep(paths: string[]): Promise<void> {
  const { body: pages } = await t.call('GET', `${site}/pages`)
  const pageIds = paths.map((path) => pages.find((page: { path: string }) => page.path === path).id as number)
  const { body } = await t.call('POST', `${site}/sweeps`, { pageIds, repeats: 1 })
  for (const pageId of pageIds) await runPageJob(workerTools(db, { browser }), { sweepId: body.id, pageId }, aHold)
}
async function look(): Promise<NowhereView> {
  expect((await t.call('POST', `${site}/nowhere`)).status).toBe(202)
  const row = (await OnDemandRow.findOne({ where: { siteId, kind: 'nowhere', state: 'waiting' } }))!
  await runReadOnDemand(workerTools(db, { browser }), { id: row.id }, aHold)
  return (await t.call('GET', `${site}/nowhere`)).body
}
const rulesOf = async (n: number) => (await t.call('GET', `${site}/nowhere/files/${n}`)).body

it('asks for a sweep first', async () => {
  expect((await t.call('GET', `${site}/nowhere`)).body).toMatchObject({ underWay: false, takenAt: null, files: [] })
  expect((await t.call('POST', `${site}/nowhere`)).status).toBe(409)
  expect((await t.call('GET', `${site}/nowhere/files/0`)).status).toBe(404)
})

it('names what is used nowhere, keeps what a state, paper or a script may bring, and cleans the file', async () => {
  await sweep(['/about'])
  const view = await look()
  expect(view).toMatchObject({ underWay: false, failure: null, toLookAt: 4, isOld: false })
  expect(view.lenses).toHaveLength(1)
  const [file] = view.files
  expect(file).toMatchObject({
    url: `${plain.address}/look/pond/pond.css`,
    isOwn: true,
    pages: 1,
    sweeps: 1,
    why: null,
  })
  const { rules, cleaned } = await rulesOf(0)
  expect(
    Object.fromEntries(rules.map(({ name, because }: { name: string; because: string }) => [name, because])),
  ).toEqual({
    '.mill-wheel': null,
    '.pond-lost a:hover': 'state',
    'form .field-error': 'state',
    '.heron-later': 'script',
    h1: expect.stringMatching(/print|condition/),
    'reed 400 normal': null,
    '.only-on-deep': null,
  })
  expect(cleaned).toBe(CSS.replace('.mill-wheel { color: red }\n', '').replace('.only-on-deep { margin: 3px }\n', ''))
  // It comes unpacked, so each byte counts.
  expect(file!.cleanedWire).toBe(Buffer.byteLength(cleaned))
  expect(file!.spared).toBeGreaterThan(0)
}, 300_000)

it('names the functions of scripts that never ran, with what speaks for them, and cleans no script of them', async () => {
  const view: NowhereView = (await t.call('GET', `${site}/nowhere`)).body
  const file = view.files.find(({ url }) => url.endsWith('/gallery.js'))!
  expect(file).toMatchObject({ type: 'script', isOwn: true, why: null, cleanedWire: null, isCleaned: false, spared: 0 })
  expect(file.wire).toBe(Buffer.byteLength(GALLERY))
  const { rules, cleaned } = await rulesOf(file.n)
  expect(cleaned).toBeNull()
  expect(rules.map(({ what, name, line, because }: Record<string, unknown>) => [what, name, line, because])).toEqual([
    ['function', 'forgotten', 3, null],
    ['function', 'helper', 4, null],
    ['function', 'pressed', 5, 'script'],
    ['function', "addEventListener('scroll')", 6, 'event'],
  ])
  expect(rules[1].bytes).toBe(Buffer.byteLength("function helper() { return 'grün' }"))
  expect(file.counts).toContainEqual({ because: 'event', rules: 1, bytes: expect.any(Number) })
})

it('what any page of any sweep has used is used, as long as the file is the same', async () => {
  await sweep(['/deep'])
  await sweep(['/about'])
  const view = await look()
  expect(view.files[0]).toMatchObject({ pages: 1, sweeps: 3 })
  expect((await rulesOf(0)).rules.map(({ name }: { name: string }) => name)).not.toContain('.only-on-deep')
  plain.replaced.set('/look/pond/pond.css', `${CSS}.new { color: red }`)
  const changed = await look()
  expect(changed.files[0]).toMatchObject({ why: expect.stringContaining('has changed since the sweep'), spared: 0 })
}, 300_000)

it('words of scripts are names, and beginnings of names', () => {
  const words = new ScriptWords()
  words.take(`el.classList.add("is-open", 'col-' + n); const gr\u00fcn = "#main_nav"; x-y`, 'one')
  for (const name of ['is-open', 'col-7', 'col-md-2', 'grün', 'main_nav'])
    expect([name, words.has(name)]).toEqual([name, true])
  for (const name of ['open', 'column', 'is', 'co', 'col-of-many-parts'])
    expect([name, words.has(name)]).toEqual([name, false])
  expect(rangesOf('{[0,7),[9,12)}')).toEqual([[0, 7], [9, 12]]) // prettier-ignore
  expect(rangesOf('{}')).toEqual([])
})
