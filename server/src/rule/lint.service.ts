import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { lint, type BringsIn, type LintFinding, type LintKnown, type Rule } from '@unvelt/core'
import type { RuleFinding } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow, rulePage } from '../page/page.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { fileNamesOf } from '../toll/file-toll-store.js'
import { DraftService } from './draft.service.js'
import { LiveRulesService } from './live-rules.service.js'
import { mergeRules } from './merge-rules.js'
import { RuleVersionRow } from './rule-version.model.js'
import { ruleViews } from './rule-view.js'
import { arrivedIn, offArrives, switchedOff, waysIn } from './still-arriving.js'

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
    const addOns = await AddOnRow.findAll({ where: { siteId } })
    const sweep = await this.sweeps.toShow(siteId)
    const off = sweep ? switchedOff(sweep, addOns) : []
    const asked = [...live.map(({ addon }) => addon), ...off.map(({ slug }) => slug)]
    const arrived = sweep ? await arrivedIn(this.sequelize, sweep.id, asked) : new Map<string, Set<string>>()
    const merged = mergeRules(live, drafts)
    // What is switched off needs nothing else to be known; what is wrong with rules does.
    const known =
      merged.length > 0 ? await this.known(siteId, addOns, await this.filesSeen(sweep, merged)) : { pages: [] }
    const found = [
      // What arrives all the same speaks of rules that were live while the site was read.
      ...(live.length > 0 && (await this.isReadUnder(siteId, version, sweep))
        ? lint(live, { ...known, arrives: arrived }).filter(({ kind }) => kind === 'still-arrives')
        : []),
      ...offArrives(off, arrived),
      ...(merged.length > 0 ? lint(merged, known) : []),
    ].slice(0, MOST_FINDINGS)
    const ways = sweep ? await waysIn(this.sequelize, sweep, found) : new Map<LintFinding, BringsIn[]>()
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
      broughtIn: (ways.get(finding) ?? []).map(({ by, how, url }) => ({
        by: by === null ? null : (names.get(by) ?? by),
        how,
        url,
      })),
    }))
  }

  /** A register may not know what an add-on's own code brings in; readings do. */
  private async filesSeen(sweep: SweepRow | null, rules: readonly Rule[]): Promise<Map<string, string[]>> {
    const named = [...new Set(rules.flatMap(({ addon, file }) => (file === undefined ? [] : [addon])))]
    return sweep && named.length > 0 ? fileNamesOf(this.sequelize, sweep, named) : new Map()
  }

  private async known(siteId: number, addOns: AddOnRow[], seen: Map<string, string[]>): Promise<LintKnown> {
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
        addOns.flatMap(({ slug, files }) => {
          const names = [...files.map(({ path }) => path), ...(seen.get(slug) ?? [])]
          return names.length > 0 ? [[slug, names]] : []
        }),
      ),
      versions: Object.fromEntries(addOns.flatMap(({ slug, version }) => (version === null ? [] : [[slug, version]]))),
      inUse: byPath(uses.map(({ path, slug }) => ({ path, slug }))),
    }
  }

  /** Whether a sweep was made under the rules that are live now. */
  private async isReadUnder(siteId: number, version: number, sweep: SweepRow | null): Promise<boolean> {
    const put = await RuleVersionRow.findOne({ where: { siteId, version }, attributes: ['putAt'] })
    return put !== null && sweep !== null && sweep.startedAt >= put.putAt
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
