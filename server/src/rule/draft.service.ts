import { randomUUID } from 'node:crypto'
import { Inject, Injectable } from '@nestjs/common'
import { Op, Sequelize } from 'sequelize'
import { NOT_ADDONS, parseRuleFile, RULES_FORMAT, type Rule } from '@unvelt/core'
import type { DraftChange, Drafts, RuleInput } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { effectsOf } from '../site/site-effects.js'
import { DraftRow } from './draft.model.js'
import { sameSubject } from './merge-rules.js'
import { PredictionService } from './prediction.service.js'
import { part, ruleViews } from './rule-view.js'

/** Payers that are no add-on: what is charged to them is the page itself, or nobody's in particular. */
const UNRULED: ReadonlySet<string> = new Set(NOT_ADDONS)

/** Rules being written. They live here until they are put live or thrown away. */
@Injectable()
export class DraftService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly prediction: PredictionService,
  ) {}

  async rules(siteId: number): Promise<Rule[]> {
    return (await DraftRow.findAll({ where: { siteId }, order: ['createdAt', 'id'] })).map((row) => row.rule)
  }

  async view(siteId: number): Promise<Drafts> {
    const rules = await this.rules(siteId)
    return { rules: await ruleViews(siteId, rules), prediction: await this.prediction.predict(siteId, rules) }
  }

  /** Adds drafts. One that is about the same thing as an earlier draft replaces it. */
  async add(site: SiteRow, inputs: RuleInput[]): Promise<void> {
    const rules = await this.check(site, inputs)
    await this.sequelize.transaction(async (transaction) => {
      const present = await DraftRow.findAll({ where: { siteId: site.id }, transaction, lock: true })
      const replaced = present.filter((row) => rules.some((rule) => sameSubject(row.rule, rule)))
      await DraftRow.destroy({ where: { id: { [Op.in]: replaced.map((row) => row.id) } }, transaction })
      await DraftRow.bulkCreate(
        rules.map((rule) => ({ id: rule.id, siteId: site.id, rule })),
        { transaction },
      )
    })
  }

  async change(site: SiteRow, id: string, { effect, until, order }: DraftChange): Promise<void> {
    const row = await this.find(site.id, id)
    const { addon, place, condition, note, value } = row.rule
    const changed: RuleInput = { addon, ...part(row.rule), place, effect }
    if (effect === 'set' && value !== undefined) changed.value = value
    if (until) changed.until = until
    if (order) changed.order = order
    if (condition) changed.condition = condition
    if (note !== undefined) changed.note = note
    const [rule] = await this.check(site, [changed])
    await row.update({ rule: { ...rule!, id } })
  }

  async remove(siteId: number, id: string): Promise<void> {
    await (await this.find(siteId, id)).destroy()
  }

  async clear(siteId: number, ids?: string[]): Promise<void> {
    await DraftRow.destroy({ where: { siteId, ...(ids && { id: { [Op.in]: ids } }) } })
  }

  /** Rules as drafts would hold them, checked against what the site has and can do. */
  async check(site: SiteRow, inputs: RuleInput[]): Promise<Rule[]> {
    const parsed = parseRuleFile({
      format: RULES_FORMAT,
      rules: inputs.map(({ addon, feature, file, setting, effect, until, order, value, place, condition, note }) => ({
        id: randomUUID(),
        addon,
        ...part({ feature, file, setting } as RuleInput),
        effect,
        ...(value !== undefined && { value }),
        ...(until && { until }),
        ...(order && { order }),
        place,
        ...(condition && { condition: { ...condition } }),
        ...(note !== undefined && { note }),
      })),
    })
    if ('problems' in parsed) {
      const errors = parsed.problems.map(({ at, expected }) => ({
        field: at.slice(1),
        message: `Expected ${expected}.`,
      }))
      throw new ProblemError(422, 'The rules are not as expected.', errors)
    }
    const known = new Map((await AddOnRow.findAll({ where: { siteId: site.id } })).map((row) => [row.slug, row]))
    const errors = parsed.file.rules.flatMap(({ addon, feature, effect }, index) => {
      const row = known.get(addon)
      const field = `rules/${index}`
      // The site itself obeys rules only on what it knows; a rewriter takes away what can be told apart by its address.
      if (site.connector && row?.source !== 'connector')
        return [
          {
            field: `${field}/addon`,
            message: `The site can’t put rules on ${row?.name ?? addon}: it is not an add-on of its own.`,
          },
        ]
      if (!site.connector && UNRULED.has(addon))
        return [{ field: `${field}/addon`, message: `${addon} is no add-on that could be left out.` }]
      if (!effectsOf(site).includes(effect))
        return [{ field: `${field}/effect`, message: `The site can’t carry out ${effect}.` }]
      if (row && effect === 'skip' && feature === undefined && !row.canSkip)
        return [{ field: `${field}/effect`, message: `The site can’t leave ${row.name} unrun on single pages.` }]
      return []
    })
    if (errors.length > 0) throw new ProblemError(422, errors[0]!.message, errors)
    return parsed.file.rules
  }

  private async find(siteId: number, id: string): Promise<DraftRow> {
    const row = /^[0-9a-f-]{36}$/.test(id) ? await DraftRow.findOne({ where: { siteId, id } }) : null
    if (!row) throw notFound('draft')
    return row
  }
}
