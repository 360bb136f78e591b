import 'reflect-metadata'
import { predict, tolls, type Reading } from '@unvelt/core'
import { DEFAULT_LIMITS } from '../src/browser/limits.js'
import { StandinReader } from './standin-reader.js'

/** Traps that come with a switch, an update, another edition, or an outsider in trouble. */
let site: StandinReader
beforeAll(async () => void (site = await StandinReader.start()))
afterAll(() => site?.stop())

const pathsOf = ({ requests }: Reading) => requests.map((r) => new URL(r.url).pathname)
const bytesOf = ({ requests }: Reading) =>
  requests.filter((r) => r.type !== 'document').reduce((sum, r) => sum + r.transferBytes, 0)

it('a switch says off while the file still loads', async () => {
  const { addOns } = await site.sources()
  expect(addOns.find(({ slug }) => slug === 'snowfall')!.features).toMatchObject([{ slug: 'snow', on: false }])
  expect(pathsOf(await site.readPlain('/privacy'))).toContain('/add-ons/snowfall/snowfall.js')
})

it('the site’s own delivery host is no outsider', async () => {
  const reading = await site.readPlain('/privacy')
  const { payerOf } = await site.chargesOf(reading)
  expect(payerOf('files.fernhollow.localhost')).toEqual(['ticket-desk', 'field-map'])
})

it('outsiders’ scripts are put in by a template, an injected header, a theme switch and other scripts', async () => {
  const reading = await site.readPlain('/privacy')
  const initiatorOf = (host: string) => reading.requests.find((r) => r.url.includes(host))!.initiator.type
  expect(['oldgadget', 'gale', 'plumeline'].map(initiatorOf)).toEqual(['parser', 'parser', 'parser'])
  expect(initiatorOf('hallodesk')).toBe('script')
  const { payerOf } = await site.chargesOf(reading)
  expect(['oldgadget', 'gale', 'plumeline', 'hallodesk'].map(payerOf)).toEqual([
    ['template-leftover'],
    ['head-room'],
    ['hollow'],
    ['tagbasket'],
  ])
  await site.call('PUT', '/add-ons/hollow/features', { features: { 'visitor-figures': false } })
  const off = await site.readUnder('/privacy', [{ addon: 'head-room' }])
  expect(off.requests.filter((r) => /plumeline|gale\./.test(r.url))).toEqual([])
  await site.call('PUT', '/add-ons/hollow/features', { features: { 'visitor-figures': true } })
})

it('the paid edition brings seven requests and 84 KB to a page where nothing changed', async () => {
  const plain = await site.readPlain('/privacy')
  await site.call('POST', '/add-ons/pass-it-on/install', { version: '3.0.4-plus' })
  const paid = await site.readUnder('/privacy', [])
  await site.call('POST', '/add-ons/pass-it-on/install', { version: '3.0.4' })
  expect(paid.requests.length - plain.requests.length).toBe(7)
  const more = paid.requests.filter((r) => r.url.includes('/pass-it-on/plus/'))
  expect(more).toHaveLength(7)
  expect(Math.round(more.reduce((sum, r) => sum + r.transferBytes, 0) / 1024)).toBe(84)
  // Its own five tags are all that came to the page.
  expect(paid.domElements).toBe(plain.domElements + 5)
})

it('an update breaks one page by one of its files: without that file the page is whole', async () => {
  await site.call('POST', '/add-ons/code-colours/install', { version: '4.1.0' })
  const broken = await site.readUnder('/articles/counting-rings', [])
  expect(broken.consoleErrors.join(' ')).toContain('colourTables is not defined')
  expect((await site.readUnder('/articles/moss-for-beginners', [])).consoleErrors).toEqual([])
  const errorsWithout = async (file: string) =>
    (
      await site.readUnder('/articles/counting-rings', [
        { addon: 'code-colours', effect: 'leave-out', file: `/add-ons/code-colours/${file}` },
      ])
    ).consoleErrors.length
  expect(await errorsWithout('pack-web.js')).toBeGreaterThan(0)
  expect(await errorsWithout('pack-text.js')).toBe(0)
  await site.call('POST', '/add-ons/code-colours/install', { version: '4.0.0' })
})

it('two minifiers break the table sorter, each alone does not', async () => {
  await site.putRules([])
  const firstTreeAfterPress = async () => {
    const page = await site.browser.newPage()
    await page.goto(`${site.standin.address}/tree-register`)
    await page.getByRole('columnheader', { name: 'Girth, cm' }).click()
    const first = await page.locator('table.sortable tbody tr td').first().textContent()
    await page.close()
    return first
  }
  expect(await firstTreeAfterPress()).toBe('Gatehouse lime')
  await site.call('PUT', '/add-ons/leaf-press/active', { active: false })
  expect(await firstTreeAfterPress()).toBe('River alder')
  await site.call('PUT', '/add-ons/leaf-press/active', { active: true })
  await site.call('PUT', '/add-ons/trim-press/active', { active: false })
  expect(await firstTreeAfterPress()).toBe('River alder')
  await site.call('PUT', '/add-ons/trim-press/active', { active: true })
})

it('a library that is put off comes too late for the scripts that need it', async () => {
  const late = await site.readUnder('/', [{ addon: 'rootlib', effect: 'order', order: 'defer' }])
  expect(late.consoleErrors.join(' ')).toContain('rootlib is not defined')
})

it('faces that load when they come into sight are far fewer at first', async () => {
  await site.call('PUT', '/add-ons/comments/features', { features: { 'lazy-faces': true } })
  const reading = await site.readUnder('/articles/first-frost', [])
  await site.call('PUT', '/add-ons/comments/features', { features: { 'lazy-faces': false } })
  const faces = reading.requests.filter((r) => r.url.includes('manyfaces')).length
  expect(faces).toBeLessThan(140)
})

it('a local copy is served by the own host, and is still the outsider’s add-on to pay for', async () => {
  const reading = await site.readUnder('/about', [{ addon: 'letterloft-fonts', effect: 'local' }])
  expect(reading.requests.filter((r) => r.url.includes('letterloft.localhost'))).toEqual([])
  const copies = reading.requests.filter((r) => r.url.includes('/local/'))
  expect(copies.map((r) => r.type).sort()).toEqual(['font', 'font', 'style'])
  expect(copies.every((r) => r.status === 200)).toBe(true)
  const { attribution } = await site.chargesOf(reading)
  expect(tolls(reading, attribution).find(({ payer }) => payer === 'letterloft-fonts')!.requests).toBe(3)
})

it('what can’t be copied is refused, and nothing changes', async () => {
  const refused = (addon: string) => expect(site.putRules([{ addon, effect: 'local' }])).rejects.toThrow(/422/)
  await refused('pass-it-on')
  await site.putRules([])
})

it('an outsider that is slow, down or endless makes its page slow, short of a file, or never quiet', async () => {
  const slow = await site.readUnder('/articles/storm-notes', [])
  expect(slow.timings.load).toBeGreaterThan(4_000)
  const down = await site.readUnder('/articles/the-old-pump', [])
  expect(down.requests.find((r) => r.url.includes('gonehost'))).toMatchObject({
    status: null,
    failure: expect.any(String) as string,
  })
  const endless = await site.readUnder('/articles/owls', [], {
    limits: { ...DEFAULT_LIMITS, quietWaitMs: 3_000 },
  })
  expect(endless.timings.load).toBeGreaterThan(0)
  expect(endless.timings.quiet).toBeNull()
  expect((await site.chargesOf(endless)).payerOf('brook.localhost')).toEqual(['sky-reports'])
})

it('without its script the menu of the phone does not open', async () => {
  await site.putRules([])
  const opens = async () => {
    const page = await site.browser.newPage({ viewport: { width: 390, height: 800 } })
    await page.goto(`${site.standin.address}/about`)
    await page.getByRole('button', { name: 'Menu' }).click()
    const open = await page.getByRole('link', { name: 'Seed shop' }).isVisible()
    await page.close()
    return open
  }
  expect(await opens()).toBe(true)
  await site.putRules([{ addon: 'hollow', effect: 'leave-out', file: '/themes/hollow/hollow.js' }])
  await site.call('POST', '/purge')
  expect(await opens()).toBe(false)
  await site.putRules([])
})

it('glued files are split by their parts, and the page falls by what an add-on had in them', async () => {
  const glue = (on: boolean) =>
    site.call('PUT', '/add-ons/press-together/features', { features: { 'glue-scripts': on, 'glue-styles': on } })
  await glue(true)
  const glued = await site.readUnder('/privacy', [])
  const { attribution } = await site.chargesOf(glued)
  const byPayer = new Map(tolls(glued, attribution).map((toll) => [toll.payer, toll]))
  expect(glued.requests.filter((r) => r.url.includes('/cache/glued/')).length).toBe(byPayer.get('glued')!.requests)
  expect(byPayer.get('glued')!.decodedBytes).toBe(0)
  expect(byPayer.get('unassigned')?.decodedBytes ?? 0).toBe(0)
  const { saved } = predict(glued, attribution, new Map([['pass-it-on', 'skip']]), { needs: {}, libraries: [] })
  const expected = saved.find(({ payer }) => payer === 'pass-it-on')!.decodedBytes
  const without = await site.readUnder('/privacy', [{ addon: 'pass-it-on' }])
  const decoded = ({ requests }: Reading) =>
    requests.filter((r) => r.type !== 'document').reduce((sum, r) => sum + r.decodedBytes, 0)
  expect(decoded(glued) - decoded(without)).toBe(expected)
  expect(expected).toBeGreaterThan(20_000)
  await glue(false)
  await site.putRules([])
})

it('adds up to the byte what every add-on loads, switches or none', async () => {
  const reading = await site.readUnder('/articles/a-map-of-smells', [])
  const { attribution } = await site.chargesOf(reading)
  const charged = tolls(reading, attribution).reduce((sum, toll) => sum + toll.transferBytes, 0)
  expect(charged).toBe(
    bytesOf(reading) + reading.requests.filter((r) => r.type === 'document').reduce((s, r) => s + r.transferBytes, 0),
  )
})
