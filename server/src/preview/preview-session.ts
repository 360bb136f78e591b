import { planRewrite, resolve, withFoundPayers, type RewritePlan, type Rule, type RulePage } from '@unvelt/core'
import type { Preview, PreviewDevice, PreviewVisitor } from '@unvelt/contract'
import { pageFinder, PageRow } from '../page/page.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import { reachOf } from '../reach/reach.js'
import { DraftRow } from '../rule/draft.model.js'
import { mergeRules } from '../rule/merge-rules.js'
import type { LiveRulesService } from '../rule/live-rules.service.js'
import { ConnectorClient } from '../site-http/connector-client.js'
import { giveCopies } from '../site-http/give-copies.js'
import { measuringHeader, MEASURING_HEADER } from '../site-http/measuring-header.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { attributionSources, evidentAddOns } from '../sweep/sources.js'
import { recorderScript } from './recorder.js'

/** What is asked of the database once is good for all that a page loads. */
const FRESH_MS = 1_000
/** Sites keep drafts for half an hour at least. */
const KEPT_MS = 20 * 60_000

const HANDSET =
  'Mozilla/5.0 (Linux; Android 16) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Mobile Safari/537.36'

export interface PreviewWish {
  id: string
  siteId: number
  /** Milliseconds since 1970. */
  expiresAt: number
  device: PreviewDevice
  /** The origin of the window around the pages, and what it shows to be let in. */
  window: string
  windowKey: string
  /** The origin of Unvelt as whoever opened it sees it. */
  openedFrom: string | null
}

interface Now {
  site: SiteRow
  key: string | null
  rules: Rule[]
}

/** One open preview: which drafts it does without, and what is done with a page for it. */
export class PreviewSession {
  off = new Set<string>()
  device: PreviewDevice
  visitor: PreviewVisitor = 'signed-out'
  isRecording = false
  path: string | null = null
  status: number | null = null
  mechanism: Preview['mechanism'] = 'rewriter'
  private fresh: { at: number; now: Promise<Now> } | null = null
  private kept: { rules: string; at: number; id: Promise<string> } | null = null

  constructor(
    readonly wish: PreviewWish,
    private readonly live: LiveRulesService,
    private readonly secret: Buffer,
  ) {
    this.device = wish.device
  }

  /** Forgets what was known of rules and site, since something was changed. */
  changed(): void {
    this.fresh = null
  }

  /** The site, and the rules as they would be live. */
  now(): Promise<Now> {
    if (!this.fresh || Date.now() - this.fresh.at > FRESH_MS) {
      this.fresh = { at: Date.now(), now: this.read() }
      // Who asks hears of it; the next one asks anew.
      this.fresh.now.catch(() => this.changed())
    }
    return this.fresh.now
  }

  private async read(): Promise<Now> {
    const { siteId } = this.wish
    const [site, drafts, live] = await Promise.all([
      SiteRow.findByPk(siteId),
      DraftRow.findAll({ where: { siteId, aside: null }, order: ['createdAt', 'id'] }),
      this.live.current(siteId),
    ])
    if (!site) throw new Error('The site is not registered any more.')
    this.mechanism = site.connector?.measuring?.drafts ? 'site' : 'rewriter'
    const tried = drafts.filter(({ id }) => !this.off.has(id)).map(({ rule }) => rule)
    return {
      site,
      key: site.connectorKey === null ? null : open(site.connectorKey, this.secret),
      rules: mergeRules(live.rules, tried),
    }
  }

  /** What a request to the site is sent on with. */
  async headers(url: URL): Promise<Record<string, string>> {
    const { site, key } = await this.now()
    const rules = this.mechanism === 'site' ? (`draft-${await this.atSite()}` as const) : 'live'
    return {
      ...(this.device === 'handset' && { 'user-agent': HANDSET, 'sec-ch-ua-mobile': '?1' }),
      ...(key !== null &&
        site.connector !== null && {
          [MEASURING_HEADER]: measuringHeader(url, key, { rules, cache: 'bypass' }, Date.now() / 1000),
        }),
    }
  }

  /** What core's rewriter does with a page; a site that applies drafts itself is left to it. */
  async plan(url: URL): Promise<RewritePlan | null> {
    const { site, rules } = await this.now()
    const first = this.isRecording ? recorderScript(this.wish.window) : ''
    const [page, addOns, patterns] =
      this.mechanism === 'site'
        ? [null, [], []]
        : await Promise.all([this.pageAt(url), evidentAddOns(site.id), patternsOf(site.id)])
    const effects = page === null ? [] : resolve(rules, page, { device: this.device, visitor: this.visitor })
    const known = attributionSources(site, addOns, patterns)
    const sources = withFoundPayers(
      known,
      rules.map(({ addon }) => addon),
    )
    const plan = planRewrite({ effects, sources, pageUrl: url.href })
    return { ...plan, first: first + plan.first }
  }

  /** The page at an address; of one that nobody has listed only its path is known. */
  private async pageAt(url: URL): Promise<RulePage> {
    const { siteId } = this.wish
    const whole = url.pathname + url.search
    return pageFinder(await PageRow.findAll({ where: { siteId, path: [...new Set([whole, url.pathname])] } }))(url)
  }

  /** Under which name the site keeps the rules; kept anew where they have changed, or for long. */
  private async atSite(): Promise<string> {
    const { site, key, rules } = await this.now()
    const text = JSON.stringify(rules)
    if (!this.kept || this.kept.rules !== text || Date.now() - this.kept.at > KEPT_MS) {
      const connector = new ConnectorClient(site.address, site.connector!.base, key ?? '', reachOf(site))
      const before = this.kept
      const keep = () => connector.keepDrafts(rules)
      this.kept = { rules: text, at: Date.now(), id: giveCopies(connector, site.id, rules).then(keep) }
      this.kept.id.catch(() => (this.kept = null))
      // The site need not keep what nobody looks at any more.
      void before?.id.then((id) => connector.removeDrafts(id)).catch(() => {})
    }
    return this.kept.id
  }

  /** The site was started anew, or has kept the drafts for long enough. */
  lost(): void {
    this.kept = null
  }

  /** Lets the site forget the drafts. */
  async end(): Promise<void> {
    if (!this.kept) return
    const [{ site, key }, id] = await Promise.all([this.now(), this.kept.id])
    await new ConnectorClient(site.address, site.connector!.base, key ?? '', reachOf(site)).removeDrafts(id)
  }
}
