import type { Transaction } from 'sequelize'
import type { Rule } from '@unvelt/core'
import { RuleVersionRow } from './rule-version.model.js'

/** Keeps what is live at a site from now on. A version that the site gives anew, after it was set back, takes the old one's place. */
export async function keepVersion(
  { siteId }: { siteId: number },
  { version, rules, what }: { version: number; rules: Rule[]; what: string },
  transaction: Transaction,
): Promise<void> {
  await RuleVersionRow.upsert({ siteId, version, rules, what, putAt: new Date() }, { transaction })
}
