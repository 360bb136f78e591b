import { randomUUID } from 'node:crypto'
import { Inject, Injectable } from '@nestjs/common'
import { Op, Sequelize, type Transaction } from 'sequelize'
import {
  CONTENT,
  fittingParticulars,
  NOT_ADDONS,
  parseRuleFile,
  particularsOf,
  RULES_FORMAT,
  withoutParticulars,
  type Rule,
} from '@unvelt/core'
import type { DraftChange, Drafts, RuleInput } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { effectsOf } from '../site/site-effects.js'
import { DraftRow } from './draft.model.js'
import { LiveRulesService } from './live-rules.service.js'
import { subject, type DraftRule } from './merge-rules.js'
import { PredictionService } from './prediction.service.js'
import { refuseOutdated, revisionOf } from './draft-basis.js'
import { unmadeCopies } from './unmade-copies.js'
import { part, ruleViews } from './rule-view.js'

/** Payers that are no add-on: what is charged to them is the page itself, or nobody's in particular. */
const UNRULED: ReadonlySet<string> = new Set(NOT_ADDONS)

/** Rules being written. They live here until they are put live or thrown away. */
@Injectable()
export class DraftService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly prediction: PredictionService,
    private readonly live: LiveRulesService,
  ) {}

  async rules(siteId: number): Promise<DraftRule[]> {
    return (await openDrafts(siteId)).map((row) => row.rule)
  }

  async view(siteId: number): Promise<Drafts> {
    const rules = await this.rules(siteId)
    const aside = await DraftRow.findAll({ where: { siteId, aside: { [Op.ne]: null } }, order: ['createdAt', 'id'] })
    const asideViews = await ruleViews(
      siteId,
      aside.map(({ rule }) => rule),
    )
    return {
      rules: (await ruleViews(siteId, rules)).map((view, n) => ({ ...view, revision: revisionOf(rules[n]!) })),
      aside: aside.map((row, n) => ({ rule: asideViews[n]!, ...row.aside! })),
      prediction: await this.prediction.predict(siteId, rules),
    }
  }

  /** Adds drafts. One that is about the same thing as an earlier draft replaces it. */
  async add(site: SiteRow, inputs: RuleInput[]): Promise<void> {
    const rules = await this.check(site, inputs)
    await this.sequelize.transaction(async (transaction) => {
      const present = await DraftRow.findAll({ where: { siteId: site.id }, transaction, lock: true })
      refuseOutdated(inputs, rules, present)
      const drafted = new Set(rules.map(subject))
      const replaced = present.filter((row) => drafted.has(subject(row.rule)))
      await DraftRow.destroy({ where: { id: { [Op.in]: replaced.map((row) => row.id) } }, transaction })
      await DraftRow.bulkCreate(
        rules.map((rule) => ({ id: rule.id, siteId: site.id, rule })),
        { transaction },
      )
    })
  }

  async change(site: SiteRow, id: string, change: DraftChange): Promise<void> {
    const row = await this.find(site.id, id)
    if (row.rule.removed) throw new ProblemError(409, 'By this draft a live rule goes; there is no effect to change.')
    const { id: _, made: __, madeFor: ___, ...before } = row.rule
    const changed = { ...withoutParticulars(before), ...fittingParticulars(before, change) }
    const [rule] = await this.check(site, [changed])
    await row.update({ rule: { ...rule!, id } })
  }

  /** Puts some drafts where they neither go live nor are rehearsed, until they are brought back. */
  async setAside(siteId: number, ids: readonly string[], why: string, transaction?: Transaction): Promise<void> {
    await DraftRow.update(
      { aside: { why, at: new Date().toISOString() } },
      { where: { siteId, id: { [Op.in]: [...ids] }, aside: null }, ...(transaction && { transaction }) },
    )
  }

  async bringBack(siteId: number, id: string): Promise<void> {
    await (await this.find(siteId, id)).update({ aside: null })
  }

  async remove(siteId: number, id: string): Promise<void> {
    await (await this.find(siteId, id)).destroy()
  }

  async clear(siteId: number, ids?: string[]): Promise<void> {
    await DraftRow.destroy({ where: { siteId, aside: null, ...(ids && { id: { [Op.in]: ids } }) } })
  }

  /** Rules as drafts would hold them, checked against what the site has and can do. */
  async check(site: SiteRow, inputs: RuleInput[]): Promise<DraftRule[]> {
    const known = new Map((await AddOnRow.findAll({ where: { siteId: site.id } })).map((row) => [row.slug, row]))
    const today = new Date().toISOString().slice(0, 10)
    const parsed = parseRuleFile({
      format: RULES_FORMAT,
      rules: inputs.map((input) => ({
        id: randomUUID(),
        addon: input.addon,
        ...part(input),
        effect: input.effect,
        // The rule engine takes plain values, and not what they were read from.
        ...structuredClone(particularsOf(input)),
        place: input.place,
        ...(input.condition && { condition: { ...input.condition } }),
        ...(input.note !== undefined && { note: input.note }),
        ...(input.author !== undefined && { author: input.author }),
        made: today,
        ...(known.get(input.addon)?.version && { madeFor: known.get(input.addon)!.version }),
        ...(input.expires !== undefined && { expires: input.expires }),
      })),
    })
    if ('problems' in parsed) {
      const errors = parsed.problems.map(({ at, expected }) => ({
        field: at.slice(1),
        message: `Expected ${expected}.`,
      }))
      throw new ProblemError(422, 'The rules are not as expected.', errors)
    }
    const isLive = new Set(
      inputs.some(({ removed }) => removed) ? (await this.live.current(site.id)).rules.map(subject) : [],
    )
    const errors = parsed.file.rules.flatMap((rule, index) => {
      const { addon, feature, effect } = rule
      const row = known.get(addon)
      const field = `rules/${index}`
      // Whatever is live can go, also what the site could not be given any more.
      if (inputs[index]!.removed)
        return isLive.has(subject(rule)) ? [] : [{ field, message: 'No rule on just this is live.' }]
      if (isFirstFile(rule) && site.connector && site.connector.firstFiles !== true)
        return [{ field: `${field}/effect`, message: 'The site can’t have single files asked for first.' }]
      // Without one, it is a matter of the page's own tags alone.
      if (isFirstFile(rule) && (addon === CONTENT || !site.connector)) return []
      if (addon === CONTENT && isLazyFile(rule) && (!site.connector || site.connector.lazyContent === true)) return []
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
      if (effect === 'local' && rule.file?.startsWith('/') && rule.copy?.content === undefined)
        return [{ field: `${field}/effect`, message: `${rule.file} is on the own host already.` }]
      if (!effectsOf(site).includes(effect))
        return [{ field: `${field}/effect`, message: `The site can’t carry out ${effect}.` }]
      if (row && effect === 'skip' && feature === undefined && !row.canSkip)
        return [{ field: `${field}/effect`, message: `The site can’t leave ${row.name} unrun on single pages.` }]
      return []
    })
    errors.push(...(await unmadeCopies(site, parsed.file.rules, (n) => !inputs[n]!.removed)))
    if (errors.length > 0) throw new ProblemError(422, errors[0]!.message, errors)
    return parsed.file.rules.map((rule, index) => (inputs[index]!.removed ? { ...rule, removed: true } : rule))
  }

  /**
   * Takes the rules of a file in as drafts: all of them or none, or those that fit.
   * @throws ProblemError with the path of each that does not fit, and why.
   */
  async addFile(site: SiteRow, file: unknown, partly: boolean): Promise<void> {
    const parsed = parseRuleFile(file)
    if ('problems' in parsed) {
      const errors = parsed.problems.map(({ at, expected }) => ({
        field: at.slice(1),
        message: `Expected ${expected}.`,
      }))
      const [first] = parsed.problems as [(typeof parsed.problems)[0]]
      const message = `The file can’t be read at ${first.at || 'its beginning'}: expected ${first.expected}. Nothing was taken in.`
      throw new ProblemError(422, message, errors)
    }
    const inputs = parsed.file.rules.map(({ id: _, made: __, madeFor: ___, ...rule }): RuleInput => rule)
    if (inputs.length === 0) throw new ProblemError(422, 'The file has no rules in it.')
    try {
      return await this.add(site, inputs)
    } catch (error) {
      if (!partly || !(error instanceof ProblemError)) throw error
      const bad = new Set(error.errors.map(({ field }) => Number(/^rules\/(\d+)/.exec(field)?.[1])))
      const fit = inputs.filter((_, index) => !bad.has(index))
      if (fit.length === 0) throw error
      await this.add(site, fit)
    }
  }

  private async find(siteId: number, id: string): Promise<DraftRow> {
    const row = /^[0-9a-f-]{36}$/.test(id) ? await DraftRow.findOne({ where: { siteId, id } }) : null
    if (!row) throw notFound('draft')
    return row
  }
}

/** A picture or frame of the page's own can be said to wait until it is near, and nothing else. */
const isLazyFile = ({ file, effect, until }: Rule) => file !== undefined && effect === 'hold' && until === 'seen'

/** A file, a picture mostly, can be asked for before others. */
const isFirstFile = ({ file, effect }: Rule) => file !== undefined && effect === 'hint'

/** Those that are to go live: what was set aside is not among them. */
export const openDrafts = (siteId: number): Promise<DraftRow[]> =>
  DraftRow.findAll({ where: { siteId, aside: null }, order: ['createdAt', 'id'] })
