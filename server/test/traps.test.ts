import 'reflect-metadata'
import type { Browser } from 'playwright-core'
import { attribute, predict, tolls, type Reading, type Rule } from '@unvelt/core'
import { ADD_ONS, countedVisits, startStandin, type Standin } from '@unvelt/standin'
import { freshDatabase } from '../../testing/fresh-database.js'
import { DEFAULT_LENS } from '../src/lens/lens.model.js'
import { launchBrowser } from '../src/measure/browser.js'
import { measuringHeader } from '../src/measure/measuring-header.js'
import { readPage } from '../src/measure/read-page.js'
import { ConnectorClient } from '../src/site/connector-client.js'
import { attributionSources } from '../src/sweep/sources.js'
import type { AddOnRow } from '../src/add-on/add-on.model.js'
import type { SiteRow } from '../src/site/site.model.js'

/** The stand-in's traps, met in the real browser: each really happens, and each is charged to who causes it. */
let browser: Browser
let standin: Standin
let database: Awaited<ReturnType<typeof freshDatabase>>
let connector: ConnectorClient
let version = 0

beforeAll(async () => {
  browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
  database = await freshDatabase()
  standin = await startStandin({ port: 0, databaseUrl: database.url, connectorKey: 'k' })
  connector = new ConnectorClient(standin.address, '/unvelt/v1', 'k')
}, 60_000)
afterAll(async () => {
  await browser?.close()
  await standin?.stop()
  await database?.drop()
})

async function readUnder(path: string, rules: Partial<Rule>[]): Promise<Reading> {
  const whole = rules.map(
    (rule, n) => ({ id: `r${n}`, effect: 'skip', place: { level: 'everywhere' }, ...rule }) as Rule,
  )
  version = await connector.putRules(whole, version)
  const url = new URL(path, standin.address)
  const header = measuringHeader(url, 'k', { rules: version, cache: 'bypass' }, Date.now() / 1000)
  return readPage(browser, { url: url.href, lens: DEFAULT_LENS.settings, measuringHeader: header })
}

async function sources() {
  const [{ addOns }, { files, folders }] = await Promise.all([connector.inventory(), connector.assets()])
  const site = { ownHosts: [new URL(standin.address).host], assetRegister: files, folders } as unknown as SiteRow
  const rows = addOns.map((addOn) => ({
    ...addOn,
    outsideHosts: addOn.outsideHosts ?? [],
    inlineIds: addOn.inlineIds ?? [],
  }))
  return { sources: attributionSources(site, rows as unknown as AddOnRow[]), addOns }
}

/** The page's requests but for the page itself, whose tags come and go; what varies in an address is cut off. */
const filesOf = ({ requests }: Reading) =>
  requests.filter((r) => r.type !== 'document').map((r) => `${r.url.split('?')[0]} ${r.transferBytes}`)

it('the library left out breaks the slider, in the console and to the eye', async () => {
  const whole = await readUnder('/', [])
  const broken = await readUnder('/', [{ addon: 'rootlib', effect: 'leave-out' }])
  expect(whole.consoleErrors).toEqual([])
  expect(broken.consoleErrors.join(' ')).toContain('rootlib is not defined')
}, 30_000)

it('the statistics tag held back loses visits', async () => {
  const before = countedVisits()
  await readUnder('/privacy', [])
  expect(countedVisits()).toBe(before + 1)
  await readUnder('/privacy', [{ addon: 'tagbasket', effect: 'hold', until: 'input' }])
  expect(countedVisits()).toBe(before + 1)
}, 30_000)

it('the tag container brings in others, through scripts and redirects, and pays for all of them', async () => {
  const known = await sources()
  const reading = await readUnder('/privacy', [])
  const { requests } = attribute(reading, known.sources)
  const brought = reading.requests
    .filter((r) => requests.get(r.id)!.payer === 'tagbasket')
    .map((r) => new URL(r.url).hostname)
  expect(new Set(brought)).toEqual(
    new Set([
      'tagbasket.localhost',
      'footpath.localhost',
      'adlattice.localhost',
      'hallodesk.localhost',
      'warmtrail.localhost',
    ]),
  )
  expect([...requests.values()].filter(({ payer }) => payer === 'unassigned')).toEqual([])
}, 30_000)

it('a hundred and forty faces are a hundred and forty requests of the comments', async () => {
  const known = await sources()
  const reading = await readUnder('/articles/first-frost', [])
  const comments = tolls(reading, attribute(reading, known.sources)).find((toll) => toll.payer === 'comments')
  expect(comments!.requests).toBe(140)
  expect(comments!.queries).toBe(1)
}, 30_000)

it('the server’s time goes where the traps are: two hundred queries of the menu, a wait for the river', async () => {
  const known = await sources()
  const reading = await readUnder('/about', [])
  const byPayer = new Map(tolls(reading, attribute(reading, known.sources)).map((toll) => [toll.payer, toll]))
  expect(byPayer.get('bramble-menu')!.queries).toBe(200)
  expect(byPayer.get('river-level')!.serverMs).toBeGreaterThan(130)
  expect(byPayer.get('river-level')!.queries).toBe(0)
  expect(byPayer.get('nightly-copy')?.requests ?? 0).toBe(0)
}, 30_000)

it('taking any one add-on away lowers the page by exactly what was predicted', async () => {
  const known = await sources()
  const whole = await readUnder('/opening-hours', [])
  const attribution = attribute(whole, known.sources)
  const dependencies = {
    needs: Object.fromEntries(known.addOns.map((addOn) => [addOn.slug, addOn.needs])),
    libraries: known.addOns.filter((addOn) => addOn.library).map((addOn) => addOn.slug),
  }
  const loading = new Set([...attribution.requests.values()].map((charge) => charge.payer))
  const wrong: string[] = []
  for (const { manifest } of ADD_ONS.filter(
    (a) => a.manifest.canSkip && !a.manifest.library && loading.has(a.manifest.slug),
  )) {
    const { requests: gone } = predict(whole, attribution, new Map([[manifest.slug, 'skip' as const]]), dependencies)
    const expected = filesOf({ ...whole, requests: whole.requests.filter((r) => !gone.includes(r.id)) })
    const without = await readUnder('/opening-hours', [{ addon: manifest.slug }])
    const measured = filesOf(without)
    if (JSON.stringify(measured.sort()) !== JSON.stringify(expected.sort()))
      wrong.push(
        `${manifest.slug}: predicted ${expected.length}, measured ${measured.length}; ${measured.filter((f) => !expected.includes(f)).join(', ')} / ${expected.filter((f) => !measured.includes(f)).join(', ')}`,
      )
  }
  expect(wrong).toEqual([])
}, 300_000)
