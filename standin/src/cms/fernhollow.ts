import type { IncomingMessage, ServerResponse } from 'node:http'
import { PLAIN_VISIT, type Rule, type Visit } from '@unvelt/core'
import { PAGES, type SitePage } from '../content/pages.js'
import { send, sendFile, type Handler } from '../http/answer.js'
import { treePicture } from '../media/tree-picture.js'
import type { AddOn, AddOnFile } from './add-on.js'
import type { Database } from './database.js'
import { makePage } from './make-page.js'
import { readMeasuring, type MeasuringRequest } from './measuring.js'
import { PageCache } from './page-cache.js'
import { renderPage } from './template.js'
import type { RuleStore } from './rule-store.js'

/** The arboretum's own host: files, pictures and pages, the pages through a cache that serves stale until purged. */
export class Fernhollow {
  readonly cache = new PageCache()
  private readonly files = new Map<string, AddOnFile>()

  constructor(
    readonly addOns: readonly AddOn[],
    private readonly database: Database,
    private readonly rules: RuleStore,
    private readonly measuringKey: string,
  ) {
    for (const addOn of addOns) for (const file of addOn.files) this.files.set(file.path, file)
  }

  readonly handle: Handler = async (request, response, address) => {
    // The presence ping of the CMS itself; nobody reads what it says.
    if (address.pathname === '/presence' && request.method === 'POST') return send(response, 204, {})
    if (request.method !== 'GET' && request.method !== 'HEAD')
      return send(response, 405, { allow: 'GET, HEAD' }, 'Only GET and HEAD here.')
    const file = this.files.get(address.pathname)
    if (file) return sendFile(request, response, file.path, file.body)
    const [, tree] = /^\/media\/tree-(\d{1,4})\.svg$/.exec(address.pathname) ?? []
    if (tree) return sendFile(request, response, address.pathname, picture(Number(tree)))
    const page = PAGES.find((p) => p.path === address.pathname)
    if (!page) return this.sendNotFound(response)
    await this.sendPage(request, response, address, page)
  }

  /** Makes pages anew and stores them, as a visitor's request would. */
  async warm(paths: readonly string[], origin: string): Promise<number> {
    let warmed = 0
    for (const page of PAGES.filter((p) => paths.includes(p.path))) {
      await this.makeAndStore(page, new URL(page.path, origin), PLAIN_VISIT)
      warmed += 1
    }
    return warmed
  }

  private async sendPage(request: IncomingMessage, response: ServerResponse, address: URL, page: SitePage) {
    const measuring = readMeasuring(
      request.headers['unvelt-measure'],
      address.pathname + address.search,
      this.measuringKey,
      Date.now() / 1000,
    )
    const visit: Visit = {
      device: /\bMobile\b/.test(request.headers['user-agent'] ?? '') ? 'handset' : 'desk',
      visitor: 'signed-out',
    }
    if (measuring?.cache === 'bypass') return this.sendFresh(response, address, page, visit, measuring)
    const cached = this.cache.get(PageCache.key(page.path, visit.device, visit.visitor))
    const { html, rulesVersion, storedAt } = cached ?? (await this.makeAndStore(page, address, visit))
    send(
      response,
      200,
      {
        ...PAGE_HEADERS,
        'x-page-cache': cached ? 'hit' : 'miss',
        age: String(Math.floor((Date.now() - storedAt) / 1000)),
        ...(measuring && { 'unvelt-rules': String(rulesVersion) }),
      },
      html,
    )
  }

  private async sendFresh(
    response: ServerResponse,
    address: URL,
    page: SitePage,
    visit: Visit,
    measuring: MeasuringRequest,
  ): Promise<void> {
    const version = measuring.rules === 'live' ? this.rules.live.version : measuring.rules
    const rules = await this.rules.at(version)
    if (!rules)
      return send(response, 409, { 'content-type': 'text/plain' }, `There are no rules of version ${version}.`)
    const { html, trace } = await this.make(page, address, rules, visit)
    send(
      response,
      200,
      {
        ...PAGE_HEADERS,
        'x-page-cache': 'bypass',
        'server-timing': trace.serverTiming(),
        'unvelt-rules': String(version),
      },
      html,
    )
  }

  private async makeAndStore(page: SitePage, address: URL, visit: Visit) {
    const { version, rules } = this.rules.live
    const { html } = await this.make(page, address, rules, visit)
    const stored = { html, rulesVersion: version, storedAt: Date.now() }
    this.cache.put(PageCache.key(page.path, visit.device, visit.visitor), stored)
    return stored
  }

  private make(page: SitePage, address: URL, rules: readonly Rule[], visit: Visit) {
    return makePage(page, address, this.addOns, rules, visit, this.database)
  }

  private sendNotFound(response: ServerResponse): void {
    const page: SitePage = {
      path: '',
      title: 'Nothing grows here',
      kind: 'page',
      area: 'public',
      lead: 'This address leads nowhere.',
      body: '',
      picture: 2,
    }
    send(response, 404, PAGE_HEADERS, renderPage(page, '<p>Go back to <a href="/">the gatehouse</a>.</p>', '', []))
  }
}

const PAGE_HEADERS = { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-cache' }
const pictures = new Map<number, Buffer>()

function picture(seed: number): Buffer {
  const drawn = pictures.get(seed) ?? Buffer.from(treePicture(seed, 1280, 420))
  pictures.set(seed, drawn)
  return drawn
}
