import type { IncomingMessage, ServerResponse } from 'node:http'
import { PLAIN_VISIT, type Rule, type Visit } from '@unvelt/core'
import { PAGES } from '../content/pages.js'
import { PageBook } from '../content/page-book.js'
import type { SitePage } from '../content/site-page.js'
import { send, sendFile, type Handler } from '../http/answer.js'
import { pastViews, pastVisits } from '../visits/past-visits.js'
import { Actions } from './actions.js'
import { basketOf } from './basket.js'
import type { Database } from './database.js'
import { DeliveryProxy } from './delivery-proxy.js'
import { Installed } from './installed.js'
import { Keepings } from './keepings.js'
import { LeftFiles } from './left-files.js'
import { Leftovers } from './leftovers.js'
import { LocalCopies } from './local-copies.js'
import { MadeCopies } from './made-copies.js'
import { makePage } from './make-page.js'
import { readMeasuring, type MeasuringRequest } from './measuring.js'
import { OwnFiles } from './own-files.js'
import { PageCache } from './page-cache.js'
import { People, readCookies, type Person } from './people.js'
import { Scheduler } from './scheduler.js'
import { Shelf, type OnTrial } from './shelf.js'
import { robots, sitemap } from './sitemap.js'
import { Snapshots } from './snapshots.js'
import type { SpanSender } from './spans.js'
import { renderPage } from './template.js'
import { DraftStore } from './draft-store.js'
import type { RuleStore } from './rule-store.js'
import type { AddOn } from './add-on.js'

const SEED = Number(process.env.STANDIN_SEED ?? 1887)
const MOST_LINES = 50_000

export const DELIVERY_HOST = 'files.fernhollow.localhost'

/** Who asks, and how. */
interface Visitor {
  visit: Visit
  person: Person | null
  basket: string
}

const NOBODY: Visitor = { visit: PLAIN_VISIT, person: null, basket: '' }

/** The arboretum's own host: files, pictures and pages, the pages through a cache that serves stale until purged. */
export class Fernhollow {
  readonly cache = new PageCache()
  readonly book: PageBook
  readonly installed: Installed
  readonly shelf: Shelf
  readonly copies: LocalCopies
  readonly made: MadeCopies
  readonly keepings: Keepings
  readonly leftovers: Leftovers
  private readonly leftFiles: LeftFiles
  readonly snapshots: Snapshots
  readonly scheduler: Scheduler
  files!: OwnFiles
  /** Page views of people in the past thirty days, and since the start. */
  private readonly views: Map<string, number>
  private readonly seen: string[] = []
  private readonly proxy = new DeliveryProxy()
  /** Rules that are only tried. */
  readonly drafts = new DraftStore()
  private readonly people: People
  private readonly actions: Actions

  constructor(
    catalogue: readonly AddOn[],
    readonly database: Database,
    private readonly rules: RuleStore,
    private readonly measuringKey: string,
    private readonly spans: SpanSender | null = null,
  ) {
    this.book = new PageBook(database)
    this.installed = new Installed(catalogue, database)
    this.shelf = new Shelf(this.installed, catalogue)
    this.copies = new LocalCopies(database)
    this.made = new MadeCopies(database)
    this.keepings = new Keepings(database)
    this.leftFiles = new LeftFiles(database)
    this.leftovers = new Leftovers(database, this.installed, this.book, this.leftFiles)
    this.snapshots = new Snapshots(database)
    this.scheduler = new Scheduler(database, this.installed, this.copies, spans)
    this.people = new People(database, measuringKey)
    this.actions = new Actions(this)
    this.views = pastViews(PAGES, SEED, new Date())
  }

  async setUp(): Promise<void> {
    await this.installed.setUp()
    await this.book.setUp()
    await this.copies.setUp()
    await this.made.setUp()
    await this.people.setUp()
    await this.keepings.setUp()
    await this.leftovers.setUp()
    await this.snapshots.setUp()
    this.files = new OwnFiles(this.installed, this.copies, this.made, (path) =>
      this.drafts
        .onTrial()
        .flatMap((wanted) => this.shelf.filesOf(wanted))
        .find((file) => file.path === path),
    )
  }

  viewsOf(path: string): number {
    return this.views.get(path) ?? 0
  }

  /** Combined log format: the past thirty days, and what came since the start. */
  *accessLog(): Generator<string> {
    yield* pastVisits(PAGES, SEED, new Date())
    yield* this.seen
  }

  /** Takes a line of the access log, as it is written. */
  log(line: string): void {
    this.seen.push(line)
    if (this.seen.length > MOST_LINES) this.seen.splice(0, MOST_LINES / 2)
  }

  /** Puts back what one add-on had. */
  async restorePart(snapshot: number, slug: string): Promise<void> {
    await this.snapshots.restorePart(snapshot, slug)
    await this.installed.reload()
    await this.book.reload()
    await this.leftFiles.reload()
  }

  /** Puts every table back, and forgets what was kept of them. */
  async restore(snapshot: number): Promise<void> {
    await this.snapshots.restore(snapshot)
    await this.installed.reload()
    await this.book.setUp()
    await this.copies.setUp()
    await this.made.setUp()
    await this.people.setUp()
    await this.leftFiles.setUp()
  }

  readonly handle: Handler = async (request, response, address) => {
    const { method = 'GET' } = request
    const cookies = readCookies(request.headers.cookie)
    const visitor: Visitor = {
      visit: {
        device: /\bMobile\b/.test(request.headers['user-agent'] ?? '') ? 'handset' : 'desk',
        visitor: 'signed-out',
      },
      person: this.people.whose(cookies, Date.now() / 1000),
      basket: basketOf(cookies),
    }
    if (visitor.person) visitor.visit.visitor = 'signed-in'
    const measuring = readMeasuring(
      request.headers['unvelt-measure'],
      address.pathname + address.search,
      this.measuringKey,
      Date.now() / 1000,
    )
    if (method === 'POST' || address.pathname === '/sign-out')
      return this.actions.handle(request, response, address, visitor, measuring, this.people)
    if (method !== 'GET' && method !== 'HEAD')
      return send(response, 405, { allow: 'GET, HEAD, POST' }, 'Only GET, HEAD and POST here.')
    const file =
      this.shelf.fileOf(this.drafts.onTrial(), address)?.body ??
      this.files.get(address.pathname) ??
      this.leftFiles.get(address.pathname)
    if (file) return sendFile(request, response, address.pathname, file, this.servingOf(address.pathname))
    if (address.pathname === '/robots.txt')
      return send(response, 200, { 'content-type': 'text/plain' }, robots(address.origin))
    if (address.pathname === '/sitemap.xml')
      return send(response, 200, { 'content-type': 'application/xml' }, sitemap(this.book.listed(), address.origin))
    const page = this.book.find(address.pathname)
    if (!page) return this.sendNotFound(response)
    if (page.roles && !(visitor.person && page.roles.includes(visitor.person.role)))
      return send(response, 302, {
        location: `/sign-in?to=${encodeURIComponent(page.path)}`,
        'cache-control': 'no-store',
      })
    await this.sendPage(request, response, address, page, visitor, measuring)
  }

  /** The site's own delivery host: files only, through a cache that nobody here can empty. */
  readonly deliver: Handler = (request, response, { pathname }) => {
    const kept = this.proxy.get(pathname, Date.now(), () => this.files.get(pathname))
    if (!kept) return send(response, 404, { 'content-type': 'text/plain' }, 'No such file.')
    sendFile(request, response, pathname, kept.body, {
      ...this.servingOf(pathname),
      headers: {
        'x-proxy-cache': kept.hit ? 'hit' : 'miss',
        age: String(Math.floor((Date.now() - kept.since) / 1000)),
      },
    })
  }

  /** Makes pages anew and stores them, as visitors' requests would, one behind the other. */
  async warm(paths: readonly string[], origin: string): Promise<number> {
    let warmed = 0
    for (const page of this.book.all().filter((p) => paths.includes(p.path) && this.isCached(p) && !p.roles)) {
      await this.makeAndStore(page, new URL(page.path, origin), NOBODY)
      warmed += 1
    }
    return warmed
  }

  /** Empties the page cache for some paths, or every cache that can be emptied. */
  purge(paths: readonly string[] | undefined, origin: string): { name: string; purged: number }[] {
    const pages = { name: 'page cache', purged: this.cache.purge(paths) }
    if (this.installed.isOn('larder', 'preload')) void this.preload(paths, origin)
    if (paths) return [pages]
    return [
      pages,
      { name: 'glued files', purged: this.files.glued.purge() },
      { name: 'generated styles', purged: this.files.generated.purge() },
    ]
  }

  /** The HTML of a page for nobody in particular, under some rules and past every cache. */
  async plainHtml(page: SitePage, address: URL, rules: readonly Rule[]): Promise<string> {
    return (await this.make(page, address, rules, NOBODY)).html
  }

  private async preload(paths: readonly string[] | undefined, origin: string): Promise<void> {
    const wanted = paths ?? this.book.listed().map((page) => page.path)
    await this.warm(wanted, origin).catch((error: Error) => console.error(`stand-in: preload: ${error.message}`))
  }

  private servingOf(path: string) {
    const { installed } = this
    return {
      // Of what editors upload nobody thought that it could be a script.
      compress: installed.isOn('larder', 'compression') && !/^\/media\/.+\.js$/.test(path),
      keep: installed.isOn('larder', 'static-caching'),
    }
  }

  private isCached(page: SitePage): boolean {
    return !page.personal && page.area === 'public' && this.installed.isOn('larder', 'page-cache')
  }

  private async sendPage(
    request: IncomingMessage,
    response: ServerResponse,
    address: URL,
    page: SitePage,
    visitor: Visitor,
    measuring: MeasuringRequest | null,
  ) {
    if (!measuring) this.views.set(page.path, this.viewsOf(page.path) + 1)
    if (measuring?.cache === 'bypass') return this.sendFresh(request, response, address, page, visitor, measuring)
    if (!this.isCached(page)) {
      const { version, rules } = this.rules.live
      const { html } = await this.make(page, address, rules, visitor)
      return send(
        response,
        200,
        {
          ...PAGE_HEADERS,
          'cache-control': 'private, no-store',
          'x-page-cache': 'pass',
          ...(measuring && { 'unvelt-rules': String(version) }),
        },
        html,
      )
    }
    const cached = this.cache.get(
      PageCache.key(address.pathname + address.search, visitor.visit.device, visitor.person?.name ?? 'signed-out'),
    )
    const { html, rulesVersion, storedAt } = cached ?? (await this.makeAndStore(page, address, visitor))
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
    request: IncomingMessage,
    response: ServerResponse,
    address: URL,
    page: SitePage,
    visitor: Visitor,
    measuring: MeasuringRequest,
  ): Promise<void> {
    const { version, rules, addOns } = await this.rulesOf(measuring)
    if (!rules)
      return send(response, 409, { 'content-type': 'text/plain' }, `There are no rules of version ${version}.`)
    // A page that is only asked for its marks is nobody's reading.
    const spans = measuring.marks ? null : (this.spans?.request('GET', address.pathname, request.headers) ?? null)
    const make = (database: Database) =>
      this.make(page, address, rules, visitor, { spans, marks: measuring.marks, addOns, database })
    // What is on trial writes into tables that nobody keeps.
    const { html, trace } =
      Object.keys(addOns).length === 0
        ? await make(this.database)
        : await this.database.trial(async (database) => {
            for (const setUp of this.shelf.setUps(addOns)) await setUp(database)
            return make(database)
          })
    spans?.end(200, trace)
    send(
      response,
      200,
      {
        ...PAGE_HEADERS,
        'x-page-cache': 'bypass',
        'server-timing': trace.serverTiming(),
        'unvelt-rules': version,
      },
      html,
    )
  }

  private async rulesOf({
    rules,
  }: MeasuringRequest): Promise<{ version: string; rules: readonly Rule[] | undefined; addOns: OnTrial }> {
    if (typeof rules === 'object') {
      const kept = this.drafts.at(rules.draft)
      return { version: `draft-${rules.draft}`, rules: kept?.rules, addOns: kept?.addOns ?? {} }
    }
    const version = rules === 'live' ? this.rules.live.version : rules
    return { version: String(version), rules: await this.rules.at(version), addOns: {} }
  }

  /** What is to be told of a form that is measured. */
  spansOf(request: IncomingMessage, address: URL) {
    return this.spans?.request('POST', address.pathname, request.headers) ?? null
  }

  private async makeAndStore(page: SitePage, address: URL, visitor: Visitor) {
    const { version, rules } = this.rules.live
    const { html } = await this.make(page, address, rules, visitor)
    const stored = { html, rulesVersion: version, storedAt: Date.now() }
    this.cache.put(
      PageCache.key(address.pathname + address.search, visitor.visit.device, visitor.person?.name ?? 'signed-out'),
      stored,
    )
    return stored
  }

  private make(
    page: SitePage,
    address: URL,
    rules: readonly Rule[],
    { visit, person, basket }: Visitor,
    {
      spans = null,
      marks = false,
      addOns = {},
      database = this.database,
    }: {
      spans?: ReturnType<SpanSender['request']> | null
      marks?: boolean
      addOns?: OnTrial
      database?: Database
    } = {},
  ) {
    const { installed, copies, made, files } = this
    const port = address.port ? `:${address.port}` : ''
    return makePage({
      page,
      address,
      addOns: this.shelf.withOnTrial(addOns),
      pages: this.book.all(),
      rules,
      visit,
      person,
      basket,
      database,
      spans,
      ownHosts: [address.host, DELIVERY_HOST + port],
      deliveryOrigin: `http://${DELIVERY_HOST}${port}`,
      localCopies: copies.byAddress,
      madeCopies: made.standingIn((path) => files.get(path)),
      copiesOf: { ...copies.register(), ...made.register() },
      marks,
      glue: (html) =>
        files.glued.glue(
          this.shelf.namedOnTrial(html, addOns),
          installed.isOn('press-together', 'glue-scripts'),
          installed.isOn('press-together', 'glue-styles'),
        ),
    })
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
    const theme = this.installed.get('hollow').files.find((file) => file.type === 'style')
    const tags = theme ? [{ where: 'head' as const, html: `<link rel="stylesheet" href="${theme.path}">` }] : []
    const content = '<p>Go back to <a href="/">the gatehouse</a>, or <a href="/search">search</a>.</p>'
    send(response, 404, PAGE_HEADERS, renderPage(page, content, '', tags))
  }
}

const PAGE_HEADERS = { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-cache' }
