import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Op, Sequelize } from 'sequelize'
import { patternProblem } from '@unvelt/core'
import type { Patterns, PatternInput } from '@unvelt/contract'
import { AddOnRow, NO_ADD_ON } from '../add-on/add-on.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { RECOMPUTE, type RecomputeJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { PatternRow } from './pattern.model.js'

/** The maintainer's own word on whose a file is. Every past sweep of the site is worked out anew by it. */
@Injectable()
export class PatternService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
  ) {}

  async list(siteId: number): Promise<Patterns> {
    const rows = await PatternRow.findAll({ where: { siteId }, order: [['id', 'desc']] })
    const names = new Map((await AddOnRow.findAll({ where: { siteId } })).map((row) => [row.slug, row.name]))
    return {
      patterns: rows.map(({ id, pattern, addon }) => ({ id, pattern, addon, addonName: names.get(addon) ?? addon })),
      recomputing: (await SweepRow.count({ where: { siteId, recomputing: true } })) > 0,
    }
  }

  async add(siteId: number, { pattern, addon, name, kind }: PatternInput): Promise<Patterns> {
    const problem = patternProblem(pattern)
    if (problem) throw fieldProblem('pattern', `Expected ${problem}.`)
    const known = await AddOnRow.findOne({ where: { siteId, slug: addon } })
    if (!known && !name) throw fieldProblem('addon', 'The inventory has no such add-on. Give a new entry its name.')
    if (!known && !/^[a-z0-9][a-z0-9-]*$/.test(addon))
      throw fieldProblem('addon', 'A new entry’s slug has small letters, digits and dashes only.')
    await this.sequelize.transaction(async (transaction) => {
      if (!known)
        await AddOnRow.create(
          {
            ...NO_ADD_ON,
            siteId,
            slug: addon,
            kind: kind ?? 'snippet',
            name: name!,
            summary: 'Added by hand.',
            source: 'hand',
          },
          { transaction },
        )
      await PatternRow.destroy({ where: { siteId, pattern }, transaction })
      await PatternRow.create({ siteId, pattern, addon }, { transaction })
    })
    return this.recompute(siteId)
  }

  async remove(siteId: number, id: number): Promise<Patterns> {
    if ((await PatternRow.destroy({ where: { siteId, id } })) === 0) throw notFound('pattern')
    return this.recompute(siteId)
  }

  /** The newest sweep first: it is the one that is looked at. */
  private async recompute(siteId: number): Promise<Patterns> {
    // Variants are compared by the page's own figures, whoever pays for them.
    const charged = { siteId, purpose: { [Op.notIn]: ['weigh-in', 'shares'] }, thinnedAt: null }
    await SweepRow.update({ recomputing: true }, { where: charged })
    const sweeps = await SweepRow.findAll({ where: charged, attributes: ['id'], order: [['id', 'desc']] })
    for (const { id } of sweeps)
      await this.queue.send(RECOMPUTE, { sweepId: id } satisfies RecomputeJob, { singletonKey: String(id) })
    return this.list(siteId)
  }
}

const fieldProblem = (field: string, message: string) => new ProblemError(422, message, [{ field, message }])
