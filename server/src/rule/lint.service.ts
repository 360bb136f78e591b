import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { lint, type LintFinding, type LintKnown } from '@unvelt/core'
import type { RuleFinding } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { mergeRules } from './merge-rules.js'
import { RuleVersionRow } from './rule-version.model.js'
import { ruleViews } from './rule-view.js'

const MOST_FINDINGS = 500

/** Looks for what is wrong with the rules as they would be live, by all that is known of the site. */
@Injectable()
export class LintService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly sweeps: SweepService,
  ) {}

  async findings(siteId: number): Promise<RuleFinding[]> {
    const [drafts, { version, rules: live }] = await Promise.all([this.drafts.rules(siteId), this.live.current(siteId)])
    if (drafts.length + live.length === 0) return []
    const addOns = await AddOnRow.findAll({ where: { siteId } })
    const known = await this.known(siteId, addOns)
    const merged = mergeRules(live, drafts)
    const found = [
      // What arrives all the same speaks of rules that were live while the site was read.
      ...lint(live, { ...known, arrives: await this.arrives(siteId, version) }).filter(
        ({ kind }) => kind === 'still-arrives',
      ),
      ...lint(merged, known),
    ].slice(0, MOST_FINDINGS)
    const views = new Map((await ruleViews(siteId, [...live, ...drafts])).map((rule) => [rule.id, rule]))
    const isDraft = new Set(drafts.map(({ id }) => id))
    const names = new Map(addOns.map(({ slug, name }) => [slug, name]))
    return found.map((finding) => ({
      ...finding,
      rules: finding.rules.flatMap((id) => {
        const rule = views.get(id)
        return rule ? [{ rule, state: isDraft.has(id) ? ('draft' as const) : ('live' as const) }] : []
      }),
      about: finding.about === undefined ? null : namedIn(finding.about, names),
      wayOut: finding.wayOut satisfies LintFinding['wayOut'],
    }))
  }

  private async known(siteId: number, addOns: AddOnRow[]): Promise<LintKnown> {
    const pages = await PageRow.findAll({ where: { siteId, gone: false }, order: ['position'] })
    const uses = await this.sequelize.query<{ path: string; slug: string }>(
      `select distinct path, slug from use_fact join page on page.id = page_id
       where use_fact.site_id = :siteId and word = 'used' and not gone`,
      { replacements: { siteId }, type: QueryTypes.SELECT },
    )
    return {
      today: new Date().toISOString().slice(0, 10),
      pages: pages.map(rulePage),
      needs: Object.fromEntries(addOns.map(({ slug, needs }) => [slug, needs])),
      files: Object.fromEntries(
        addOns.filter(({ files }) => files.length > 0).map(({ slug, files }) => [slug, files.map(({ path }) => path)]),
      ),
      versions: Object.fromEntries(addOns.flatMap(({ slug, version }) => (version === null ? [] : [[slug, version]]))),
      inUse: byPath(uses.map(({ path, slug }) => ({ path, slug }))),
    }
  }

  /** Path → add-ons that the newest sweep met there, if it was made under the rules that are live now. */
  private async arrives(siteId: number, version: number): Promise<ReadonlyMap<string, ReadonlySet<string>>> {
    const [put, sweep] = await Promise.all([
      RuleVersionRow.findOne({ where: { siteId, version }, attributes: ['putAt'] }),
      this.sweeps.toShow(siteId),
    ])
    if (!put || !sweep || sweep.startedAt < put.putAt) return new Map()
    const rows = await this.sequelize.query<{ path: string; slug: string }>(
      `select path, payer slug from toll join page on page.id = page_id
       where sweep_id = :sweepId and variant = 'live' and requests > 0`,
      { replacements: { sweepId: sweep.id }, type: QueryTypes.SELECT },
    )
    return byPath(rows)
  }
}

/** `x needs y` and the like, with the add-ons' names instead of their slugs. */
const namedIn = (text: string, names: ReadonlyMap<string, string>): string =>
  text
    .split(' ')
    .map((word) => names.get(word) ?? word)
    .join(' ')

function byPath(rows: readonly { path: string; slug: string }[]): Map<string, Set<string>> {
  const found = new Map<string, Set<string>>()
  for (const { path, slug } of rows) found.set(path, (found.get(path) ?? new Set()).add(slug))
  return found
}
