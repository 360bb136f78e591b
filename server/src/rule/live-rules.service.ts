import { Injectable } from '@nestjs/common'
import type { Rule } from '@unvelt/core'
import type { LiveRules } from '@unvelt/contract'
import { ProofRow } from '../proof/proof.model.js'
import { ruleViews } from './rule-view.js'
import { RuleVersionRow } from './rule-version.model.js'

/** What was put last comes first: a site that was set back gives low versions again. */
const NEWEST: [string, string][] = [
  ['putAt', 'desc'],
  ['version', 'desc'],
]

/** What is live at a site, and what was, as Unvelt put it there. */
@Injectable()
export class LiveRulesService {
  async current(siteId: number): Promise<{ version: number; rules: Rule[] }> {
    const row = await RuleVersionRow.findOne({ where: { siteId }, order: NEWEST })
    return row ? { version: row.version, rules: row.rules } : { version: 0, rules: [] }
  }

  /** The rules of one version; none for version 0, undefined for one that Unvelt never put. */
  async at(siteId: number, version: number): Promise<Rule[] | undefined> {
    if (version === 0) return []
    return (await RuleVersionRow.findOne({ where: { siteId, version } }))?.rules
  }

  async view(siteId: number): Promise<LiveRules> {
    const rows = await RuleVersionRow.findAll({ where: { siteId }, order: NEWEST, limit: 200 })
    const proofs = await ProofRow.findAll({ where: { siteId }, attributes: ['id', 'toVersion'] })
    return {
      version: rows[0]?.version ?? 0,
      versions: await Promise.all(
        rows.map(async (row) => ({
          version: row.version,
          rules: await ruleViews(siteId, row.rules),
          what: row.what,
          putAt: row.putAt.toISOString(),
          proofId: proofs.find((proof) => proof.toVersion === row.version)?.id ?? null,
        })),
      ),
    }
  }
}
