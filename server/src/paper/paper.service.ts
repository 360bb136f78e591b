import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Op, Sequelize } from 'sequelize'
import type { PaperRequest } from '@unvelt/contract'
import { notFound } from '../problem/problem.error.js'
import { PRINT, within, type PrintJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import type { SiteRow } from '../site/site.model.js'
import { whyNobodyReads } from '../sweep/stand-still.js'
import { PaperRow } from './paper.model.js'

/** So many of a site are kept; whoever wants an older one has it made again. */
const MOST_KEPT = 10

/** Documents, printed to PDF by the worker's browser. */
@Injectable()
export class PaperService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
  ) {}

  async print(site: SiteRow, { title, html }: PaperRequest): Promise<PaperRow> {
    return this.sequelize.transaction(async (transaction) => {
      const row = await PaperRow.create({ siteId: site.id, title, html }, { transaction })
      const kept = await PaperRow.findAll({
        where: { siteId: site.id },
        attributes: ['id'],
        order: [['id', 'desc']],
        limit: MOST_KEPT,
        transaction,
      })
      await PaperRow.destroy({ where: { siteId: site.id, id: { [Op.lt]: kept.at(-1)!.id } }, transaction })
      const job: PrintJob = { id: row.id }
      await this.queue.send(PRINT, job, { singletonKey: String(row.id), ...within(transaction) })
      return row.reload({ transaction })
    })
  }

  /** Why nobody prints at the moment; null where a worker is there. */
  waits(): Promise<string | null> {
    return whyNobodyReads(this.sequelize)
  }

  async get(id: number): Promise<PaperRow> {
    const row = await PaperRow.findByPk(id, { attributes: { exclude: ['html', 'pdf'] } })
    if (!row) throw notFound('paper')
    return row
  }

  async pdf(id: number): Promise<{ title: string; pdf: Buffer }> {
    const row = await PaperRow.findByPk(id, { attributes: ['title', 'pdf'] })
    if (!row?.pdf) throw notFound('paper')
    return { title: row.title, pdf: row.pdf }
  }
}
