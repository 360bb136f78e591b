import type { Browser } from 'playwright-core'
import { attribute, type Attribution, type Reading, type Rule } from '@unvelt/core'
import { startStandin, type Standin } from '@unvelt/standin'
import { shared } from '../../testing/shared.js'
import { standinDatabase } from '../../testing/standin-database.js'
import type { AddOnRow } from '../src/add-on/add-on.model.js'
import { DEFAULT_LENS } from '../src/lens/lens-settings.js'
import { launchBrowser } from '../src/browser/browser.js'
import { measuringHeader } from '../src/site-http/measuring-header.js'
import { readPage } from '../src/browser/read-page.js'
import type { ReadingOrder } from '../src/browser/reading-order.js'
import { ConnectorClient, describeConnector } from '../src/site-http/connector-client.js'
import { siteFetch } from '../src/site-http/site-fetch.js'
import type { SiteRow } from '../src/site/site.model.js'
import { attributionSources } from '../src/sweep/sources.js'

const KEY = 'k'

/** The stand-in with the measuring browser before it, and what a test asks of the two. */
export class StandinReader {
  private version = 0
  private readonly plain = new Map<string, () => Promise<Reading>>()

  private constructor(
    readonly browser: Browser,
    readonly standin: Standin,
    readonly connector: ConnectorClient,
    private readonly dropDatabase: () => Promise<void>,
  ) {}

  static async start(): Promise<StandinReader> {
    const browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
    const database = await standinDatabase()
    const standin = await startStandin({ port: 0, databaseUrl: database.url, connectorKey: KEY })
    return new StandinReader(
      browser,
      standin,
      new ConnectorClient(standin.address, '/unvelt/v1', KEY, 'anywhere'),
      () => database.drop(),
    )
  }

  async stop(): Promise<void> {
    await this.browser.close()
    await this.standin.stop()
    await this.dropDatabase()
  }

  /** A page under no rules, as it is since the last call that may have changed it; read once for all who ask. */
  readPlain(path: string): Promise<Reading> {
    const read = this.plain.get(path) ?? shared(() => this.readUnder(path, []))
    this.plain.set(path, read)
    return read()
  }

  /** Puts rules (skip everywhere, unless they say otherwise) and reads a page under them, past the cache. */
  async readUnder(path: string, rules: Partial<Rule>[], more: Partial<ReadingOrder> = {}): Promise<Reading> {
    await this.putRules(rules)
    const url = new URL(path, this.standin.address)
    const header = measuringHeader(url, KEY, { rules: this.version, cache: 'bypass' }, Date.now() / 1000)
    const reading = await readPage(this.browser, {
      reach: 'anywhere',
      url: url.href,
      lens: DEFAULT_LENS.settings,
      measuringHeader: header,
      // What is asked here is who pays for which request; what of a file is used takes a sixth of the time more.
      clean: true,
      ...more,
    })
    // How many of its pings lie within a load is a matter of how busy the machine is.
    return { ...reading, requests: reading.requests.filter((request) => !request.url.endsWith('/presence')) }
  }

  async putRules(rules: Partial<Rule>[]): Promise<void> {
    const whole = rules.map(
      (rule, n) => ({ id: `r${n}`, effect: 'skip', place: { level: 'everywhere' }, ...rule }) as Rule,
    )
    this.version = await this.connector.putRules(whole, this.version)
  }

  /** Any other call of the connector. */
  async call(method: string, path: string, body: object = {}): Promise<void> {
    this.plain.clear()
    const response = await siteFetch(`${this.standin.address}/unvelt/v1${path}`, {
      reach: 'anywhere',
      method,
      headers: { authorization: `Bearer ${KEY}`, 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`)
    await response.arrayBuffer().catch(() => {})
  }

  async sources() {
    const [{ ownHosts }, { addOns }, { files, folders, glued = {} }] = await Promise.all([
      describeConnector(this.standin.address, 'anywhere'),
      this.connector.inventory(),
      this.connector.assets(),
    ])
    const site = {
      ownHosts: [new URL(this.standin.address).host, ...ownHosts],
      assetRegister: files,
      folders,
    } as unknown as SiteRow
    const rows = addOns.map((addOn) => ({
      ...addOn,
      outsideHosts: addOn.outsideHosts ?? [],
      inlineIds: addOn.inlineIds ?? [],
    }))
    return { sources: { ...attributionSources(site, rows as unknown as AddOnRow[]), glued }, addOns }
  }

  /** What a reading's requests are charged to, by what the connector says now. */
  async chargesOf(reading: Reading): Promise<{ attribution: Attribution; payerOf(part: string): string[] }> {
    const attribution = attribute(reading, (await this.sources()).sources)
    return {
      attribution,
      payerOf: (part) => [
        ...new Set(
          reading.requests.filter((r) => r.url.includes(part)).map((r) => attribution.requests.get(r.id)!.payer),
        ),
      ],
    }
  }
}
