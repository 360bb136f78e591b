import { Injectable } from '@nestjs/common'
import { PLAIN_VISIT, resolve, type Effect, type Rule } from '@unvelt/core'
import type { PutLiveResult } from '@unvelt/contract'
import { measuringHeader, MEASURING_HEADER } from '../site-http/measuring-header.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { ProofService } from '../proof/proof.service.js'
import { reachOf } from '../reach/reach.js'
import { ConnectorError, type ConnectorClient } from '../site-http/connector-client.js'
import { siteFetch } from '../site-http/site-fetch.js'
import type { SiteRow } from '../site/site.model.js'
import { SiteService } from '../site/site.service.js'
import { SweepService } from '../sweep/sweep.service.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { mergeRules } from './merge-rules.js'
import { ruleViews } from './rule-view.js'
import { RuleVersionRow } from './rule-version.model.js'

interface Change {
  what: string
  rules: Rule[]
}

/** Puts rules live at the site and takes them back: all or nothing, and never over somebody else's change. */
@Injectable()
export class PutLiveService {
  constructor(
    private readonly sites: SiteService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly proofs: ProofService,
    private readonly sweeps: SweepService,
  ) {}

  async putDrafts(site: SiteRow): Promise<PutLiveResult> {
    const drafts = await this.drafts.rules(site.id)
    if (drafts.length === 0) throw new ProblemError(409, 'There is no draft to put live.')
    const current = await this.live.current(site.id)
    const result = await this.apply(site, {
      what: await describe(site.id, drafts),
      rules: mergeRules(current.rules, drafts),
    })
    await this.drafts.clear(
      site.id,
      drafts.map((rule) => rule.id),
    )
    return result
  }

  /** Goes back to what was live at an older version; that becomes a new version, so that nothing is forgotten. */
  async takeBack(site: SiteRow, version: number): Promise<PutLiveResult> {
    const rules = await this.live.at(site.id, version)
    if (!rules) throw new ProblemError(404, `There are no rules of version ${version}.`)
    return this.apply(site, {
      what: version === 0 ? 'All rules taken back' : `Taken back to version ${version}`,
      rules,
    })
  }

  private async apply(site: SiteRow, { what, rules }: Change): Promise<PutLiveResult> {
    const connector = this.sites.connectorOf(site)
    const current = await this.live.current(site.id)
    const pages = await PageRow.findAll({ where: { siteId: site.id }, order: ['position'] })
    refuseConflicts(rules, pages)
    // The touched pages are read right afterwards, so nothing is written while that can't be done.
    await this.sweeps.refuseWhileRunning(site.id)
    const touched = pages.filter((page) => effectsOn(current.rules, page) !== effectsOn(rules, page))
    const paths = touched.map((page) => page.path)
    const steps: string[] = []
    try {
      const atSite = await connector.rules()
      if (atSite.version !== current.version)
        throw new ConnectorError(
          `The site’s rules are at version ${atSite.version}; Unvelt last put version ${current.version}. Nothing was written.`,
          'stale',
        )
      const version = await connector.putRules(rules, current.version)
      steps.push(`The site took the rules as version ${version}.`)
      try {
        steps.push(
          ...(await this.purgeAndWarm(connector, paths)),
          ...(await this.checkAsVisitor(site, touched, version)),
        )
      } catch (error) {
        await connector.putRules(current.rules, version)
        await RuleVersionRow.create({
          siteId: site.id,
          version: version + 1,
          rules: current.rules,
          what: 'Put live failed; the rules before it again',
        })
        throw error
      }
      await RuleVersionRow.create({ siteId: site.id, version, rules, what })
      const proof = touched.length > 0 ? await this.proofs.start(site, touched, current.version, version, what) : null
      return { version, proofId: proof?.id ?? null, steps }
    } catch (error) {
      if (error instanceof ConnectorError) throw new ProblemError(error.fault === 'stale' ? 409 : 502, error.message)
      throw error
    }
  }

  private async purgeAndWarm(connector: ConnectorClient, paths: string[]): Promise<string[]> {
    const { caches } = await connector.purge(paths)
    const { warmed } = await connector.warm(paths)
    return [
      ...caches.map(({ name, purged }) => `Of the ${name}, ${count(purged, 'copy', 'copies')} purged.`),
      `${count(warmed, 'page')} warmed.`,
    ]
  }

  /** A change that visitors don't get is no change: asks for each page as a visitor would and looks which rules made it. */
  private async checkAsVisitor(site: SiteRow, pages: PageRow[], version: number): Promise<string[]> {
    const key = this.sites.keyOf(site)
    const stale: string[] = []
    for (const page of pages) {
      const url = new URL(page.path, site.address)
      const header = measuringHeader(url, key, { rules: 'live', cache: 'serve' }, Date.now() / 1000)
      const response = await siteFetch(url, { reach: reachOf(site), headers: { [MEASURING_HEADER]: header } })
      await response.body?.cancel()
      if (response.headers.get('unvelt-rules') !== String(version)) stale.push(page.path)
    }
    if (stale.length > 0)
      throw new ConnectorError(
        `Visitors still get old copies of ${stale.slice(0, 5).join(', ')}. The rules before were put back.`,
      )
    return [
      `Visitors get version ${version} on ${pages.length === 1 ? 'the page' : `all ${pages.length} pages`} it touches.`,
    ]
  }
}

const effectsOn = (rules: readonly Rule[], page: PageRow): string =>
  JSON.stringify(
    resolve(rules, rulePage(page), PLAIN_VISIT)
      .filter(({ effect }) => effect !== 'keep')
      .map(({ addon, feature, file, setting, effect, until, order, value }) => [
        addon,
        feature ?? '',
        file ?? '',
        setting ?? '',
        effect,
        until ?? order ?? value ?? '',
      ])
      .sort(),
  )

function refuseConflicts(rules: readonly Rule[], pages: readonly PageRow[]): void {
  for (const page of pages)
    for (const { addon, effect, conflictsWith } of resolve(rules, rulePage(page), PLAIN_VISIT))
      if (conflictsWith.length > 0)
        throw new ProblemError(
          409,
          `On ${page.path} two rules say different things of ${addon}, one of them ${effect}. Nothing was written.`,
        )
}

const DONE: Record<Effect, string> = {
  skip: 'not run',
  'leave-out': 'left out',
  hold: 'held back',
  order: 'put in another order',
  local: 'served by the own host',
  'system-font': 'replaced by a system font',
  hint: 'connected early',
  set: 'set',
  keep: 'kept',
}

/** The change in words: one rule says what it does, more are counted. */
async function describe(siteId: number, drafts: Rule[]): Promise<string> {
  const [only, ...more] = await ruleViews(siteId, drafts)
  if (!only || more.length > 0) return `${drafts.length} rules put live`
  const { place } = only
  const where =
    place.level === 'page'
      ? `on ${place.path}`
      : place.level === 'kind'
        ? `on pages of kind ${place.kind}`
        : place.level === 'set'
          ? `on ${place.paths.length} pages`
          : place.level
  return `${only.addonName} ${DONE[only.effect]} ${where}`
}

const count = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`
