import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import type { AiryTable, SiteKeepings, Tidying, TidyRequest } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { TIDY, within, type TidyJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { ConnectorError } from '../site-http/connector-client.js'
import type { SiteRow } from '../site/site.model.js'
import { SiteService } from '../site/site.service.js'
import { TidyingRow, type TidyWish } from './tidying.model.js'

const MOST_SHOWN = 20
/** Under so many bytes of air nobody locks a table. */
const LEAST_AIR = 100_000

/** What the CMS itself keeps for nobody, and air in tables. */
@Injectable()
export class TidyService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly sites: SiteService,
  ) {}

  async list(site: SiteRow): Promise<SiteKeepings> {
    const rows = await TidyingRow.findAll({ where: { siteId: site.id }, order: [['id', 'desc']], limit: MOST_SHOWN })
    const tidyings = rows.map(tidyingView)
    if (!offers(site, 'GET /keepings')) return { keepings: [], airy: [], tidyings }
    return {
      keepings: await this.keepings(site),
      airy: offers(site, 'POST /tables/compact') ? await airyTables(site.id) : [],
      tidyings,
    }
  }

  async tidy(site: SiteRow, { keeping, olderThanDays, tables, who = '' }: TidyRequest): Promise<Tidying> {
    const { name, wish } =
      tables && tables.length > 0
        ? { name: `air of ${tables.join(', ')}`.slice(0, 120), wish: { tables } }
        : await this.wished(site, keeping, olderThanDays)
    try {
      const row = await this.sequelize.transaction(async (transaction) => {
        const made = await TidyingRow.create({ siteId: site.id, name, wish, who }, { transaction })
        const job: TidyJob = { id: made.id }
        await this.queue.send(TIDY, job, { singletonKey: String(made.id), ...within(transaction) })
        return made
      })
      return tidyingView(row)
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, 'Something is being tidied up already.')
      throw error
    }
  }

  private async wished(
    site: SiteRow,
    id: string | undefined,
    olderThanDays: number | undefined,
  ): Promise<{ name: string; wish: TidyWish }> {
    if (id === undefined || olderThanDays === undefined)
      throw new ProblemError(422, 'Expected what is to go and how old it must be, or tables.')
    const found = (await this.keepings(site)).find((one) => one.id === id)
    if (!found) throw new ProblemError(422, `The site keeps nothing that is called ${id}.`)
    const older = olderThanDays === 0 ? '' : ` older than ${olderThanDays} days`
    return { name: `${found.name.slice(0, 80)}${older}`, wish: { keeping: id, olderThanDays } }
  }

  private async keepings(site: SiteRow) {
    try {
      return await this.sites.connectorOf(site).keepings()
    } catch (error) {
      if (error instanceof ConnectorError) throw new ProblemError(502, error.message)
      throw error
    }
  }
}

const offers = ({ connector }: SiteRow, call: string): boolean => connector?.calls?.includes(call) === true

/** By what the site said of its tables when it was last asked. */
async function airyTables(siteId: number): Promise<AiryTable[]> {
  const addOns = await AddOnRow.findAll({ where: { siteId, gone: false }, attributes: ['name', 'tables'] })
  return addOns
    .flatMap(({ name: of, tables = [] }) =>
      tables.map(({ name, bytes, reclaimableBytes = 0 }) => ({ name, of, bytes, air: reclaimableBytes })),
    )
    .filter(({ air }) => air >= LEAST_AIR)
    .sort((a, b) => b.air - a.air)
}

const tidyingView = (row: TidyingRow): Tidying => ({
  id: row.id,
  what: row.name,
  state: row.state ?? 'running',
  snapshotId: row.snapshotId ?? null,
  said: row.said ?? null,
  who: row.who,
  askedAt: row.askedAt.toISOString(),
  finishedAt: row.finishedAt?.toISOString() ?? null,
})
