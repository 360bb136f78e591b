import { randomUUID } from 'node:crypto'
import { QueryTypes, type Sequelize } from 'sequelize'
import { SiteRow } from '../site/site.model.js'
import { DraftRow } from './draft.model.js'
import { LiveRulesService } from './live-rules.service.js'
import { subject } from './merge-rules.js'

/**
 * Drafts that live rules go whose last day is over, each once: they hold until somebody puts that live, and who throws the draft away
 * is not asked again. What is drafted on the same already stays as it is.
 * @returns how many were drafted.
 */
export async function draftExpired(sequelize: Sequelize, now: Date): Promise<number> {
  const today = now.toISOString().slice(0, 10)
  const live = new LiveRulesService()
  let drafted = 0
  for (const { id: siteId } of await SiteRow.findAll({ attributes: ['id'] })) {
    const over = (await live.current(siteId)).rules.filter(({ expires }) => expires !== undefined && expires < today)
    if (over.length === 0) continue
    await sequelize.transaction(async (transaction) => {
      const present = await DraftRow.findAll({ where: { siteId }, transaction, lock: true })
      const taken = new Set(present.map(({ rule }) => subject(rule)))
      for (const rule of over) {
        const fresh = await sequelize.query(
          `insert into expiry_drafted (site_id, rule_id, expires) values ($1, $2, $3) on conflict do nothing returning 1`,
          { bind: [siteId, rule.id, rule.expires], type: QueryTypes.SELECT, transaction },
        )
        if (fresh.length === 0 || taken.has(subject(rule))) continue
        const id = randomUUID()
        const note = `Was to hold until ${rule.expires}.${rule.note === undefined ? '' : ` ${rule.note}`}`.slice(
          0,
          2000,
        )
        await DraftRow.create({ id, siteId, rule: { ...rule, id, note, removed: true } }, { transaction })
        drafted++
      }
    })
  }
  return drafted
}
