import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import type { Rule } from '@unvelt/core'
import type { Deployment, Net, Prediction, PutLiveRequest, ReadAgain, RulesAtSite } from '@unvelt/contract'
import { PageRow, rulePage } from '../../page/page.model.js'
import { BusyError, notFound, ProblemError } from '../../problem/problem.error.js'
import { DEPLOY, within, type DeployJob } from '../../queue/queue.js'
import { QUEUE } from '../../queue/queue.module.js'
import { ConnectorError } from '../../site-http/connector-client.js'
import { RehearsalService } from '../../rehearsal/rehearsal.service.js'
import type { SiteRow } from '../../site/site.model.js'
import { SiteService } from '../../site/site.service.js'
import { SweepService } from '../../sweep/sweep.service.js'
import { DraftService } from '../draft.service.js'
import { keepVersion } from '../keep-version.js'
import { LiveRulesService } from '../live-rules.service.js'
import { mergeRules, type DraftRule } from '../merge-rules.js'
import { PredictionService } from '../prediction.service.js'
import { ruleViews } from '../rule-view.js'
import { describeChange } from './describe-change.js'
import { firstConflict, notIn, sameRules } from './deployment-plan.js'
import { DeploymentRow, deploymentView, type Parts } from './deployment.model.js'
import { firstPart, partsWords } from './first-part.js'
import { settlePutOff } from './put-off.model.js'
import { refuseInQuietTime } from './quiet-words.js'

interface Change {
  what: string
  kind: Deployment['kind']
  rules: Rule[]
  drafts?: DraftRule[]
  prediction?: DeploymentRow['prediction']
  net?: Net
  readAgain?: ReadAgain | undefined
  unrehearsed?: string | undefined
  putOff?: number | undefined
  parts?: Parts | null
  /** What is replaced; what Unvelt put last, where nothing is said. */
  from?: { version: number; rules: Rule[] }
}

const MOST_LISTED = 50

/** Begins changes of the live rules, and says how far they are. Carrying them is a job (run-deployment.ts). */
@Injectable()
export class DeploymentService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly sites: SiteService,
    private readonly drafts: DraftService,
    private readonly live: LiveRulesService,
    private readonly sweeps: SweepService,
    private readonly rehearsals: RehearsalService,
    private readonly prediction: PredictionService,
  ) {}

  /** @param putOff By which they were put off until now. */
  async putDrafts(
    site: SiteRow,
    { readAgain, unrehearsed, net = site.net, inParts = false, evenNow = false }: PutLiveRequest,
    putOff?: number,
  ): Promise<Deployment> {
    if (!evenNow) refuseInQuietTime(site.quiet, new Date())
    const drafts = await this.drafts.rules(site.id)
    if (drafts.length === 0) throw new ProblemError(409, 'There is no draft to put live.')
    const why = await this.rehearsals.whyNotPassed(site.id)
    if (why !== null && unrehearsed === undefined)
      throw new ProblemError(428, `${why} Rehearse them first, or say why not. Nothing was put live.`)
    const current = await this.live.current(site.id)
    const rules = mergeRules(current.rules, drafts)
    return this.begin(site, {
      what: await describeChange(site.id, drafts),
      kind: 'drafts',
      rules,
      parts: inParts
        ? await firstPart(this.sequelize, site, {
            from: current.rules,
            to: rules,
            unrehearsed: why === null ? undefined : unrehearsed,
          })
        : null,
      drafts,
      prediction: promised(await this.prediction.predict(site.id, drafts)),
      net,
      readAgain,
      ...(why !== null && { unrehearsed }),
      putOff,
    })
  }

  /**
   * Goes back to what was live at an older version; that becomes a new version, so that nothing is forgotten.
   * @param seen What was live as far as whoever asks for it knew: what somebody else put live since is not swept away unseen.
   */
  async takeBack(site: SiteRow, version: number, seen?: number): Promise<Deployment> {
    const { version: live } = await this.live.current(site.id)
    if (seen !== undefined && seen !== live)
      throw new ProblemError(409, `Version ${live} has gone live meanwhile, and not ${seen}. Look at it first.`)
    const rules = await this.live.at(site.id, version)
    if (!rules) throw new ProblemError(404, `There are no rules of version ${version}.`)
    const what = version === 0 ? 'All rules taken back' : `Taken back to version ${version}`
    return this.begin(site, { what, kind: 'take-back', rules })
  }

  /** What the site has, against what Unvelt put there last. */
  async compare(site: SiteRow): Promise<RulesAtSite> {
    const [atSite, ours] = await Promise.all([this.atSite(site), this.live.current(site.id)])
    return {
      siteVersion: atSite.version,
      ourVersion: ours.version,
      onlyAtSite: await ruleViews(site.id, notIn(atSite.rules, ours.rules)),
      onlyOurs: await ruleViews(site.id, notIn(ours.rules, atSite.rules)),
    }
  }

  /** Takes the site's rules as they are for what is live. */
  async adopt(site: SiteRow, siteVersion: number): Promise<Deployment> {
    await this.refuseWhileUnderWay(site.id)
    const [atSite, ours] = [await this.sameAtSite(site, siteVersion), await this.live.current(site.id)]
    const what = `Version ${atSite.version} adopted from the site`
    const row = await this.sequelize.transaction(async (transaction) => {
      await keepVersion({ siteId: site.id }, { version: atSite.version, rules: atSite.rules, what }, transaction)
      return DeploymentRow.create(
        {
          siteId: site.id,
          what,
          kind: 'adopt',
          fromVersion: ours.version,
          toVersion: atSite.version,
          fromRules: ours.rules,
          toRules: atSite.rules,
          draftIds: [],
          state: 'live',
          options: { readAgain: 'none' },
          finishedAt: new Date(),
        },
        { transaction },
      )
    })
    return deploymentView(row)
  }

  /** Puts what Unvelt put there last in the place of what the site has. */
  async restore(site: SiteRow, siteVersion: number): Promise<Deployment> {
    const [from, ours] = [await this.sameAtSite(site, siteVersion), await this.live.current(site.id)]
    const what =
      ours.version === 0 ? 'The site’s own rules taken away' : `Version ${ours.version} put back over the site’s`
    return this.begin(site, { what, kind: 'restore', rules: ours.rules, from, readAgain: 'none' })
  }

  async list(siteId: number): Promise<Deployment[]> {
    const rows = await DeploymentRow.findAll({ where: { siteId }, order: [['id', 'desc']], limit: MOST_LISTED })
    return rows.map(deploymentView)
  }

  async get(id: number): Promise<Deployment> {
    const row = await DeploymentRow.findByPk(id)
    if (!row) throw notFound('change of rules')
    return deploymentView(row)
  }

  private async begin(
    site: SiteRow,
    {
      what,
      kind,
      rules,
      drafts = [],
      prediction = null,
      net = 'off',
      readAgain = 'sample',
      unrehearsed,
      putOff,
      parts = null,
      from,
    }: Change,
  ): Promise<Deployment> {
    const current = from ?? (await this.live.current(site.id))
    this.sites.connectorOf(site)
    await this.refuseConflicts(site.id, rules)
    await this.refuseWhileUnderWay(site.id)
    // The touched pages are read right afterwards, and what is being read must not change meanwhile.
    await this.sweeps.refuseWhileRunning(site.id)
    const atSite = await this.atSite(site)
    if (atSite.version !== current.version || !sameRules(atSite.rules, current.rules))
      throw new ProblemError(
        409,
        `The site’s rules are at version ${atSite.version}; Unvelt last put version ${current.version}. Nothing was written. On Rules they can be compared.`,
      )
    try {
      const row = await this.sequelize.transaction(async (transaction) => {
        const created = await DeploymentRow.create(
          {
            siteId: site.id,
            what,
            kind,
            fromVersion: current.version,
            fromRules: current.rules,
            toRules: rules,
            draftIds: drafts.map(({ id }) => id),
            drafts,
            prediction,
            parts,
            state: 'begun',
            options: {
              readAgain,
              net,
              ...(unrehearsed !== undefined && { unrehearsed }),
              ...(putOff !== undefined && { putOff }),
            },
            steps: [
              ...(putOff === undefined ? [] : [saidNow('It had been put off until now.')]),
              ...(unrehearsed === undefined ? [] : [saidNow(`Put live without a passed rehearsal: ${unrehearsed}`)]),
              ...(parts ? [saidNow(partsWords(parts.pageIds.length))] : []),
            ],
          },
          { transaction },
        )
        if (kind === 'drafts') await settlePutOff(created, putOff, transaction)
        const job: DeployJob = { id: created.id }
        await this.queue.send(DEPLOY, job, { singletonKey: String(created.id), ...within(transaction) })
        return created.reload({ transaction })
      })
      return deploymentView(row)
    } catch (error) {
      if (error instanceof UniqueConstraintError) throw underWay()
      throw error
    }
  }

  private async refuseConflicts(siteId: number, rules: Rule[]): Promise<void> {
    const pages = await PageRow.findAll({ where: { siteId }, order: ['position'] })
    const conflict = firstConflict(rules, pages.map(rulePage))
    if (conflict)
      throw new ProblemError(
        409,
        `On ${conflict.path} two rules say different things of ${conflict.addon}, one of them ${conflict.effect}. Nothing was written.`,
      )
  }

  private async refuseWhileUnderWay(siteId: number): Promise<void> {
    if ((await DeploymentRow.count({ where: { siteId, finishedAt: null } })) > 0) throw underWay()
  }

  private async atSite(site: SiteRow): Promise<{ version: number; rules: Rule[] }> {
    try {
      return await this.sites.connectorOf(site).rules()
    } catch (error) {
      if (error instanceof ConnectorError) throw new ProblemError(502, error.message)
      throw error
    }
  }

  /** The site's rules, if they are what somebody has looked at. */
  private async sameAtSite(site: SiteRow, version: number): Promise<{ version: number; rules: Rule[] }> {
    const atSite = await this.atSite(site)
    if (atSite.version !== version)
      throw new ProblemError(409, `The site’s rules are at version ${atSite.version} by now. Nothing was changed.`)
    return atSite
  }
}

/** Where nothing has been read nothing was promised. */
const promised = ({ perPage }: Prediction): DeploymentRow['prediction'] =>
  perPage.length === 0 ? null : Object.fromEntries(perPage.map(({ path, saved }) => [path, saved]))

const saidNow = (said: string) => ({ at: new Date().toISOString(), said })

const underWay = () => new BusyError('A change of this site’s rules is under way already.')
