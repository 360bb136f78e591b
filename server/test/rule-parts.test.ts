import 'reflect-metadata'
import { readFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { createRequire } from 'node:module'
import type { Browser } from 'playwright-core'
import type { Sequelize } from 'sequelize'
import { standInStyle, type FontStandIn } from '@unvelt/core'
import { launchBrowser } from '../src/browser/browser.js'
import { connect } from '../src/database/connect.js'
import { endThreads } from '../src/parse/parse-apart.js'
import { SweepRow } from '../src/sweep/sweep.model.js'
import { SOURCES as sources } from './a-reading.js'
import { addFileToll } from './add-file-toll.js'
import { appForTest, KEY } from './app-for-test.js'

/** What rules say beside their effect, found by what a sweep saw and carried out by the stand-in. */
let t: Awaited<ReturnType<typeof appForTest>>
let db: Sequelize
let browser: Browser
let site: string
let faces: string

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  t = await appForTest()
  db = await connect(t.databaseUrl)
  const { body } = await t.call('POST', '/sites', { address: t.standin.address, connectorKey: KEY, local: true })
  site = `/sites/${body.id}`
  faces = `http://letterloft.localhost:${new URL(t.standin.address).port}`
  const [page] = (await t.call('GET', `${site}/pages`)).body
  const [lens] = (await t.call('GET', `${site}/lenses`)).body
  const sweep = await SweepRow.create({
    ...{ siteId: body.id, lensId: lens.id, purpose: 'survey', status: 'done', repeats: 1, sources },
    variants: [{ name: 'live', rules: 'live' }],
    startedAt: new Date(),
    finishedAt: new Date(),
  })
  await db.query(
    `insert into toll (sweep_id, page_id, variant, payer, requests, transfer_bytes, decoded_bytes, server_ms, queries, query_ms,
     idle_bytes, main_thread_ms) values ($1, $2, 'live', 'letterloft-fonts', 1, 1, 1, 0, 0, 0, 0, 0)`,
    { bind: [sweep.id, page.id] },
  )
  const seen: [url: string, type: string][] = [
    [`${faces}/faces.css?serif=400,700&sans=400,500`, 'style'],
    [`${faces}/f/serif-400.woff2`, 'font'],
    [`${faces}/f/sans-400.woff2`, 'font'],
    [`${faces}/f/gone.woff2`, 'font'],
    [`${faces}/gone.css`, 'style'],
  ]
  for (const [url, type] of seen)
    await addFileToll(db, { sweepId: sweep.id, pageId: page.id, payer: 'letterloft-fonts', url, type })
})
afterAll(async () => {
  await browser?.close()
  await db?.close()
  await t?.stop()
  await endThreads()
})
afterEach(() => t.call('DELETE', `${site}/drafts`))

const fontFile = (name: string) =>
  `data:font/woff2;base64,${readFileSync(createRequire(import.meta.url).resolve(`@fontsource/${name}/files/${name}-latin-400-normal.woff2`)).toString('base64')}`
const parts = async (addon = 'letterloft-fonts') => (await t.call('GET', `${site}/add-ons/${addon}/rule-parts`)).body
const everywhere = { level: 'everywhere' }

it('faces of which a file was loaded have a font of the system stand in; hosts are those asked', async () => {
  const { fonts, hosts } = await parts()
  // Two of four declared faces were drawn.
  expect(fonts.map(({ weight }: FontStandIn) => weight)).toEqual(['400', '400'])
  const [serif, sans] = fonts as [FontStandIn, FontStandIn]
  expect(serif.local).toContain('Liberation Serif')
  expect(sans.local).toContain('Liberation Sans')
  for (const { size, ascent, descent } of [serif, sans]) {
    expect(size).toBeGreaterThan(80)
    expect(size).toBeLessThan(130)
    expect(ascent + descent).toBeGreaterThan(80)
  }
  expect(hosts).toEqual([{ origin: faces }, { origin: faces, cors: true }])
  expect(await parts('enquiry-form')).toEqual({ fonts: [], hosts: [] })
})

it('a text in the stand-in takes the room that it took, within a fiftieth', async () => {
  const { fonts } = (await parts()) as { fonts: FontStandIn[] }
  expect(fonts).toHaveLength(2)
  const page = await browser.newPage()
  // Letters as often as in English, and on one line.
  const text = 'The river winds past the old mill, and otters have been seen there in the early morning by those who are patient enough to wait. '.repeat(3) // prettier-ignore
  const own = fonts.map(({ family }, n) => `@font-face{font-family:own${n};src:url(${faces}/f/${/serif/i.test(family) ? 'serif' : 'sans'}-400.woff2)}`) // prettier-ignore
  // Not every machine has fonts of these metrics, so the file of one takes the place of its name.
  const fitted = fonts.map((font, n) => standInStyle([{ ...font, family: `fitted${n}` }]).replace(/src:[^;]+/, `src:url(${fontFile(font.local.includes('Arimo') ? 'arimo' : 'tinos')})`)).join('') // prettier-ignore
  await page.goto(`${faces}/nothing`)
  await page.setContent(
    `<style>p{white-space:nowrap;display:table;font-size:20px;margin:0;line-height:normal}${own.join('')}</style>${fitted}` +
      fonts
        .map((_, n) => `<p style="font-family:own${n}">${text}</p><p style="font-family:fitted${n}">${text}</p>`)
        .join(''),
  )
  await page.evaluate(() => document.fonts.ready)
  const boxes = await page.locator('p').evaluateAll((all) => all.map((p) => p.getBoundingClientRect()).map(({ width, height }) => ({ width, height }))) // prettier-ignore
  await page.close()
  fonts.forEach((_, n) => {
    const [real, stand] = [boxes[2 * n]!, boxes[2 * n + 1]!]
    expect(Math.abs(stand.width / real.width - 1)).toBeLessThan(0.02)
    expect(Math.abs(stand.height - real.height)).toBeLessThanOrEqual(1)
  })
})

it('a draft is given what it leaves open, and keeps what it says', async () => {
  const { body } = await t.call('POST', `${site}/drafts`, {
    rules: [
      { addon: 'letterloft-fonts', effect: 'system-font', place: everywhere },
      { addon: 'letterloft-fonts', effect: 'hint', place: { level: 'page', path: '/about' } },
      {
        addon: 'letterloft-fonts',
        effect: 'hint',
        place: { level: 'page', path: '/' },
        hosts: [{ origin: 'https://own.test' }],
      },
    ],
  })
  const at = (path: string | undefined) =>
    body.rules.find(({ place }: { place: { path?: string } }) => place.path === path)
  expect(at(undefined).fonts).toHaveLength(2)
  expect(at('/about').hosts).toEqual([{ origin: faces }, { origin: faces, cors: true }])
  expect(at('/').hosts).toEqual([{ origin: 'https://own.test' }])
  const changed = await t.call('PATCH', `${site}/drafts/${at(undefined).id}`, { effect: 'leave-out' })
  expect(changed.body.rules.find(({ effect }: { effect: string }) => effect === 'leave-out')).not.toHaveProperty(
    'fonts',
  )
})

it('hundreds of rules about one add-on ask for its fonts once', async () => {
  const asked: string[] = []
  const own = createServer((request, response) => {
    asked.push(request.url!)
    if (request.url === '/own.css') response.setHeader('content-type', 'text/css').end('@font-face{font-family:Own;src:url(/own.woff2)}')
    else response.end(Buffer.from(fontFile('tinos').split(',')[1]!, 'base64'))
  }) // prettier-ignore
  await new Promise<void>((resolve) => own.listen(0, '127.0.0.1', resolve))
  const at = `http://127.0.0.1:${(own.address() as AddressInfo).port}`
  const [[place]] = (await db.query('select sweep_id "sweepId", page_id "pageId" from page_file limit 1')) as [
    { sweepId: number; pageId: number }[],
    unknown,
  ]
  for (const [url, type] of [
    [`${at}/own.css`, 'style'],
    [`${at}/own.woff2`, 'font'],
  ] as const)
    await addFileToll(db, { ...place!, payer: 'pictofont', url, type })
  const rules = Array.from({ length: 300 }, (_, n) => ({
    ...{ addon: 'pictofont', effect: 'system-font' },
    place: { level: 'path', pattern: `/many-${n}` },
  }))
  const { body } = await t.call('POST', `${site}/drafts`, { rules })
  own.closeAllConnections()
  own.close()
  expect(body.rules).toHaveLength(300)
  expect(body.rules.every(({ fonts }: { fonts?: { family: string }[] }) => fonts?.[0]?.family === 'Own')).toBe(true)
  expect(asked).toEqual(['/own.css', '/own.woff2'])
})

it('a copy of which nobody said that it may be made is found, and nothing is found once somebody did', async () => {
  const file = `${faces}/faces.css?serif=400`
  const rule = { addon: 'letterloft-fonts', file, effect: 'local', place: everywhere }
  const kinds = async () =>
    (await t.call('GET', `${site}/rules/findings`)).body.map(({ kind }: { kind: string }) => kind)
  await t.call('POST', `${site}/drafts`, { rules: [rule] })
  expect(await kinds()).toContain('unlicensed')
  await t.call('POST', `${site}/drafts`, { rules: [{ ...rule, copy: { licence: 'OFL 1.1', refreshDays: 7 } }] })
  expect(await kinds()).not.toContain('unlicensed')
})

it('pages say what stands in and where to connect, copies are checked, and the site tells of them', async () => {
  expect((await t.call('GET', `${site}/copies`)).body).toEqual({ isTold: true, copies: [] })
  const file = `${faces}/faces.css?serif=400,700&sans=400,500,700`
  await t.call('POST', `${site}/drafts`, {
    rules: [
      { addon: 'letterloft-fonts', effect: 'hint', place: { level: 'page', path: '/about' } },
      { addon: 'letterloft-fonts', effect: 'system-font', place: { level: 'page', path: '/' } },
      {
        addon: 'letterloft-fonts',
        file,
        effect: 'local',
        place: { level: 'page', path: '/contact' },
        copy: { refreshDays: 7 },
      },
    ],
  })
  const begun = await t.call('POST', `${site}/rules/put-live`, { unrehearsed: 'a test' })
  expect(begun.status).toBe(200)
  for (;;) {
    const { body } = await t.call('GET', `/deployments/${begun.body.id}`)
    if (body.finishedAt !== null) break
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  const page = async (path: string) => {
    const tab = await browser.newPage()
    await tab.goto(t.standin.address + path)
    const html = await tab.content()
    await tab.close()
    return html
  }
  expect(await page('/about')).toContain(`<link rel="preconnect" href="${faces}" crossorigin="">`)
  expect(await page('/')).toMatch(/<style>@font-face\{font-family:"[^"]+";font-weight:400;.*size-adjust:/)
  const { body } = await t.call('GET', `${site}/copies`)
  if (body.copies.length === 0) throw new Error(`nothing was copied of ${file}`)
  expect(body.copies[0]).toMatchObject({
    address: file,
    addon: 'letterloft-fonts',
    isChecked: true,
    refreshDays: 7,
    trouble: null,
  })
}, 300_000)
