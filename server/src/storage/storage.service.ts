import { Inject, Injectable } from '@nestjs/common'
import { Op, QueryTypes, Sequelize } from 'sequelize'
import type { Storage, StoredSweep, WouldGo } from '@unvelt/contract'
import { tellSweep } from '../events/tell.js'
import { LensRow } from '../lens/lens.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { RetirementRow } from '../retirement/retirement.model.js'
import { gainOf, wholeSweeps } from '../retirement/whole-sweeps.js'
import { DeploymentRow } from '../rule/deployment/deployment.model.js'
import { SiteRow } from '../site/site.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { dropUnnamed } from './drop-unnamed.js'
import { thinOld } from './thin-old.js'
import { toThin } from './to-thin.js'
import { bytesOfReadings, bytesOfRehearsals, bytesOfSweep, countedTwice } from './stored-bytes.js'

const KEPT: Record<NonNullable<StoredSweep['keptFor']>, (tells: string | null) => string> = {
  running: () => 'The sweep is still being read; stop it first.',
  proof: () => 'The sweep is the before and after of a change, which would have nothing to stand on without it.',
  'weigh-in': () => 'The sweep goes with its weigh-in; delete that.',
  gain: (tells) => `What the retirement of ${tells} gained is told by this sweep.`,
}

/** What a site takes in the database, and how some or all of it is deleted. */
@Injectable()
export class StorageService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  async view(siteId: number): Promise<Storage> {
    const [rows, lenses, shown, gains, rehearsals] = await Promise.all([
      SweepRow.findAll({ where: { siteId }, order: [['startedAt', 'desc']] }),
      LensRow.findAll({ where: { siteId }, paranoid: false }),
      this.sweeps.toShow(siteId),
      this.tellingGains(siteId),
      bytesOfRehearsals(this.sequelize, siteId),
    ])
    const counts = await this.sequelize.query<{ id: number; pages: number; readings: number }>(
      `select sweep_id id, count(distinct page_id)::int pages, count(*)::int readings from reading
       where sweep_id in (select id from sweep where site_id = $1) group by sweep_id`,
      { bind: [siteId], type: QueryTypes.SELECT },
    )
    const sweeps: StoredSweep[] = []
    for (const row of rows) {
      const count = counts.find(({ id }) => id === row.id)
      const tells = gains.get(row.id) ?? null
      sweeps.push({
        id: row.id,
        purpose: row.purpose,
        lens: lenses.find(({ id }) => id === row.lensId)?.name ?? null,
        startedAt: row.startedAt.toISOString(),
        pages: count?.pages ?? 0,
        readings: count?.readings ?? 0,
        bytes: await bytesOfSweep(this.sequelize, row),
        keptFor: keptFor(row, tells),
        tells,
        shown: row.id === shown?.id,
        inFull: row.thinnedAt == null,
      })
    }
    const site = await SiteRow.findByPk(siteId)
    return {
      sweeps,
      keepFull: site?.keepFull ?? null,
      rehearsals: rehearsals.count,
      rehearsalBytes: rehearsals.bytes,
      bytes:
        rehearsals.bytes +
        sweeps.reduce((sum, { bytes }) => sum + bytes, 0) -
        (await countedTwice(this.sequelize, siteId)),
    }
  }

  /** What would go if only so many sweeps a lens were kept in full. */
  async wouldGo(siteId: number, keepFull: number | null): Promise<WouldGo> {
    const [rows, shown] = await Promise.all([SweepRow.findAll({ where: { siteId } }), this.sweeps.toShow(siteId)])
    const going = toThin(rows, keepFull, shown?.id ?? null)
    const sweeps = going.map(({ id }) => id).sort((a, b) => a - b)
    return { sweeps, bytes: await bytesOfReadings(this.sequelize, siteId, sweeps) }
  }

  /** Sets how many sweeps a lens are kept in full, and has go what is beyond. */
  async keepFull(site: SiteRow, keepFull: number | null): Promise<Storage> {
    await site.update({ keepFull })
    const shown = await this.sweeps.toShow(site.id)
    await thinOld(this.sequelize, site, shown?.id ?? null)
    return this.view(site.id)
  }

  /** Deletes a survey with its readings and all that was worked out of them. */
  async deleteSweep(id: number): Promise<Storage> {
    const row = await SweepRow.findByPk(id)
    if (!row) throw notFound('sweep')
    const tells = (await this.tellingGains(row.siteId)).get(id) ?? null
    const why = keptFor(row, tells)
    if (why) throw new ProblemError(409, KEPT[why](tells))
    await SweepRow.destroy({ where: { id, status: { [Op.notIn]: ['running', 'paused'] } } })
    await dropUnnamed(this.sequelize, row.siteId)
    await tellSweep(this.sequelize, { siteId: row.siteId, sweepId: id })
    return this.view(row.siteId)
  }

  /** Deletes a site with everything that is known of it. What is live at the site itself stays there. */
  async deleteSite(site: SiteRow, name: string): Promise<void> {
    if (name.trim() !== site.name)
      throw new ProblemError(422, 'The name is another one.', [{ field: 'name', message: `Expected ${site.name}.` }])
    const [running, rehearsing, deploying, retiring] = await Promise.all([
      SweepRow.count({ where: { siteId: site.id, status: ['running', 'paused'] } }),
      RehearsalRow.count({ where: { siteId: site.id, state: 'running' } }),
      DeploymentRow.count({ where: { siteId: site.id, finishedAt: null } }),
      RetirementRow.count({ where: { siteId: site.id, doing: { [Op.ne]: null } } }),
    ])
    if (running > 0) throw new ProblemError(409, 'A sweep of this site is under way; stop it first.')
    if (rehearsing > 0) throw new ProblemError(409, 'A rehearsal of this site is under way; stop it first.')
    if (deploying > 0) throw new ProblemError(409, 'A change of this site’s rules is under way; wait until it is over.')
    if (retiring > 0)
      throw new ProblemError(409, 'A retirement at this site is being carried out; wait until it is over.')
    await SiteRow.destroy({ where: { id: site.id } })
  }

  /** Sweep → the add-on whose retirement's gain is told by it. */
  private async tellingGains(siteId: number): Promise<Map<number, string>> {
    const gone = await RetirementRow.findAll({ where: { siteId, state: { [Op.ne]: 'cancelled' } } })
    if (gone.length === 0) return new Map()
    const site = await SiteRow.findByPk(siteId)
    const whole = await wholeSweeps(this.sequelize, siteId)
    const telling = new Map<number, string>()
    for (const { name, offAt, openedAt } of gone) {
      // As the retirement's sheet has it: nobody is told when an add-on of a site without connector went.
      const wentAt = offAt ?? (site?.connector ? null : openedAt)
      const gain = wentAt && (await gainOf(this.sequelize, whole, wentAt))
      if (gain) for (const id of [gain.before, gain.after]) telling.set(id, name)
    }
    return telling
  }
}

function keptFor({ purpose, status }: SweepRow, tells: string | null): StoredSweep['keptFor'] {
  if (status === 'running' || status === 'paused') return 'running'
  if (purpose === 'proof' || purpose === 'weigh-in') return purpose
  return tells === null ? null : 'gain'
}
