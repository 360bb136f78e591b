import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Op, Sequelize, UniqueConstraintError } from 'sequelize'
import type { RestoreRequest, SiteRestore, SiteSnapshots, SnapshotInside } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { ProblemError, notFound } from '../problem/problem.error.js'
import { RESTORE, within, type RestoreJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { RetirementRow } from '../retirement/retirement.model.js'
import { ConnectorError } from '../site-http/connector-client.js'
import type { SiteRow } from '../site/site.model.js'
import { SiteService } from '../site/site.service.js'
import { SiteRestoreRow } from './site-restore.model.js'

const MOST_RESTORES = 20

/** The way back: what a site's snapshots hold, what has changed since, and putting it back. */
@Injectable()
export class SnapshotService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly sites: SiteService,
  ) {}

  async list(site: SiteRow): Promise<SiteSnapshots> {
    const names = await namesOf(site.id)
    const restores = await SiteRestoreRow.findAll({
      where: { siteId: site.id },
      order: [['id', 'desc']],
      limit: MOST_RESTORES,
    })
    if (!canList(site)) return { snapshots: [], restores: [] }
    const snapshots = await this.asking(() => this.sites.connectorOf(site).snapshots())
    return {
      snapshots: snapshots.map(({ id, name, madeAt, bytes }) => ({ id, name, madeAt, bytes })),
      restores: restores.map((row) => restoreView(row, names)),
    }
  }

  async inside(site: SiteRow, id: number): Promise<SnapshotInside> {
    const names = await namesOf(site.id)
    const { parts, newer } = await this.asking(() => this.sites.connectorOf(site).insideSnapshot(id))
    const nameOf = (slug: string) => (slug === '' ? '' : (names.get(slug) ?? slug))
    return {
      id,
      sound: parts.length > 0 && parts.every(({ sound }) => sound),
      tables: parts.map(({ name, of, rows, sound, now }) => ({
        name,
        of: nameOf(of),
        addOn: of,
        rows,
        sound,
        rowsNow: now?.rows ?? null,
        same: now?.same ?? false,
      })),
      newer: newer?.map(({ name, of, rows }) => ({ name, of: nameOf(of), rows })) ?? null,
    }
  }

  /** Asked for here, done by a worker. */
  async restore(site: SiteRow, snapshotId: number, { addOn, who = '' }: RestoreRequest): Promise<SiteRestore> {
    const found = (await this.list(site)).snapshots.find(({ id }) => id === snapshotId)
    if (!found) throw notFound('snapshot')
    const busy = await RetirementRow.findOne({ where: { siteId: site.id, doing: { [Op.ne]: null } } })
    if (busy) throw new ProblemError(409, `Something is being done at the site for ${busy.name} just now.`)
    try {
      const row = await this.sequelize.transaction(async (transaction) => {
        const made = await SiteRestoreRow.create(
          { siteId: site.id, snapshotId, snapshotName: found.name, addOn: addOn ?? null, who },
          { transaction },
        )
        const job: RestoreJob = { id: made.id }
        await this.queue.send(RESTORE, job, { singletonKey: String(made.id), ...within(transaction) })
        return made
      })
      return restoreView(row, await namesOf(site.id))
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, 'A snapshot is being put back already.')
      throw error
    }
  }

  private async asking<T>(ask: () => Promise<T>): Promise<T> {
    try {
      return await ask()
    } catch (error) {
      if (error instanceof ConnectorError) throw new ProblemError(502, error.message)
      throw error
    }
  }
}

const canList = ({ connector }: SiteRow): boolean =>
  connector !== null && connector.calls?.includes('GET /snapshots') !== false

const namesOf = async (siteId: number): Promise<Map<string, string>> =>
  new Map(
    (await AddOnRow.findAll({ where: { siteId }, attributes: ['slug', 'name'] })).map(({ slug, name }) => [slug, name]),
  )

const restoreView = (row: SiteRestoreRow, names: ReadonlyMap<string, string>): SiteRestore => ({
  id: row.id,
  snapshotId: row.snapshotId,
  snapshotName: row.snapshotName,
  addOn: row.addOn === null ? null : (names.get(row.addOn) ?? row.addOn),
  state: row.state ?? 'running',
  said: row.said ?? null,
  who: row.who,
  askedAt: row.askedAt.toISOString(),
  finishedAt: row.finishedAt?.toISOString() ?? null,
})
