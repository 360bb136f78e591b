import { Inject, Injectable } from '@nestjs/common'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import { opensAt, quietAt } from '@unvelt/core'
import type { PutOff, PutOffRequest, PutTimes } from '@unvelt/contract'
import { tellDeployment } from '../../events/tell.js'
import { BusyError, notFound, ProblemError } from '../../problem/problem.error.js'
import type { PutOffJob } from '../../queue/queue.js'
import { RehearsalService } from '../../rehearsal/rehearsal.service.js'
import { SiteRow } from '../../site/site.model.js'
import { SiteService } from '../../site/site.service.js'
import { revisionOf } from '../draft-basis.js'
import { DraftService } from '../draft.service.js'
import type { DraftRule } from '../merge-rules.js'
import { DeploymentService } from './deployment.service.js'
import { describeChange } from './describe-change.js'
import { PutOffRow, putOffView } from './put-off.model.js'
import { refuseInQuietTime } from './quiet-words.js'

const MOST_DAYS = 90
const DAY_MS = 86_400_000
const MOST_TOLD = 5
/** So long it is waited for what stands in the way by itself, as a sweep does. */
const PATIENCE_MS = 6 * 3_600_000

/** Puts drafts live later, by themselves, if nothing speaks against it then. */
@Injectable()
export class PutOffService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sites: SiteService,
    private readonly drafts: DraftService,
    private readonly rehearsals: RehearsalService,
    private readonly deployments: DeploymentService,
  ) {}

  async times(site: SiteRow, now = new Date()): Promise<PutTimes> {
    const rows = await PutOffRow.findAll({ where: { siteId: site.id }, order: [['id', 'desc']], limit: MOST_TOLD })
    const opens = quietAt(site.quiet, now) ? opensAt(site.quiet, now) : null
    return { opensAt: opens?.toISOString() ?? null, putOff: rows.map(putOffView) }
  }

  async putOff(site: SiteRow, { dueAt, readAgain, unrehearsed, net, inParts }: PutOffRequest): Promise<PutOff> {
    const due = new Date(dueAt)
    const late = due.getTime() - Date.now()
    if (late <= 0) throw expected('dueAt', 'Expected a time to come.')
    if (late > MOST_DAYS * DAY_MS) throw expected('dueAt', `Expected a time within ${MOST_DAYS} days.`)
    refuseInQuietTime(site.quiet, due)
    this.sites.connectorOf(site)
    const drafts = await this.drafts.rules(site.id)
    if (drafts.length === 0) throw new ProblemError(409, 'There is no draft to put off.')
    const why = await this.rehearsals.whyNotPassed(site.id)
    if (why !== null && unrehearsed === undefined)
      throw new ProblemError(428, `${why} Rehearse them first, or say why not. Nothing was put off.`)
    try {
      const row = await PutOffRow.create({
        siteId: site.id,
        what: await describeChange(site.id, drafts),
        dueAt: due,
        drafts,
        request: {
          ...(readAgain && { readAgain }),
          ...(net && { net }),
          ...(inParts && { inParts }),
          ...(why !== null && unrehearsed !== undefined && { unrehearsed }),
        },
      })
      return putOffView(await row.reload())
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw new ProblemError(409, 'These drafts are put off already.')
      throw error
    }
  }

  /** Of one that was refused, that somebody has seen it. */
  async withdraw(id: number): Promise<PutOff> {
    const row = await PutOffRow.findByPk(id)
    if (!row) throw notFound('change that was put off')
    const [withdrawn] = await PutOffRow.update({ state: 'withdrawn' }, { where: { id, state: ['waiting', 'refused'] } })
    if (withdrawn === 0) throw new ProblemError(409, 'It does not wait any more.')
    return putOffView(await row.reload())
  }

  /** What waits and is due, as jobs. */
  async due(): Promise<{ data: PutOffJob }[]> {
    const rows = await this.sequelize.query(
      `select id from put_off where state = 'waiting' and due_at <= now() order by id`,
    )
    return (rows[0] as PutOffJob[]).map(({ id }) => ({ data: { id } }))
  }

  /** Begins the change of one that is due; or refuses it, and says why, since nobody is there to be asked. */
  async begin(id: number, now = new Date()): Promise<void> {
    const row = await PutOffRow.findByPk(id)
    if (row?.state !== 'waiting') return
    const site = (await SiteRow.findByPk(row.siteId))!
    // Somebody may have made the hour a quiet one since.
    const opens = quietAt(site.quiet, now) && opensAt(site.quiet, now)
    if (opens) return void (await row.update({ dueAt: opens }))
    if (!sameDrafts(await this.drafts.rules(site.id), row.drafts))
      return this.refuse(id, 'The drafts were changed since they were put off.')
    try {
      // That it has begun is written down together with the change, so that it begins once, whoever is killed.
      const { id: deploymentId } = await this.deployments.putDrafts(site, { ...row.request, evenNow: true }, id)
      await tellDeployment(this.sequelize, { siteId: site.id, deploymentId })
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error
      // It is asked again as long as it is due.
      if (passes(error) && now.getTime() - row.dueAt.getTime() < PATIENCE_MS) return
      await this.refuse(id, error.message)
    }
  }

  async refuse(id: number, why: string): Promise<void> {
    await PutOffRow.update({ state: 'refused', why }, { where: { id, state: 'waiting' } })
  }
}

const expected = (field: string, message: string) => new ProblemError(422, message, [{ field, message }])

/** A sweep or another change ends by itself, and a site that does not answer may do so again. */
const passes = (error: ProblemError) => error instanceof BusyError || error.getStatus() === 502

const sameDrafts = (a: readonly DraftRule[], b: readonly DraftRule[]) =>
  a.map(revisionOf).sort().join() === b.map(revisionOf).sort().join()
