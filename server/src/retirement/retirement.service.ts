import { Inject, Injectable } from '@nestjs/common'
import type PgBoss from 'pg-boss'
import { Sequelize, UniqueConstraintError } from 'sequelize'
import { idleFeaturesOf, NO_PAGES, perThousand, retireCandidates, type Rule } from '@unvelt/core'
import type {
  Retirement,
  RetirementChange,
  RetirementDo,
  RetirementOpening,
  Retirements,
  RetirementSheet,
  SiteLeftovers,
  WorkPageChange,
} from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { tellRetirement } from '../events/tell.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { RETIRE, within, type RetireJob } from '../queue/queue.js'
import { QUEUE } from '../queue/queue.module.js'
import { RehearsalService } from '../rehearsal/rehearsal.service.js'
import { ConnectorError } from '../site-http/connector-client.js'
import { SiteRow } from '../site/site.model.js'
import { SiteService } from '../site/site.service.js'
import { copyByHand, installed, someFeatures } from './begin-retirement.js'
import { leftoverView } from './leftover-view.js'
import { ASKED, whyNot } from './retirement-acts.js'
import { casesOf, inTheirOrder } from './retirement-cases.js'
import { logged, RetirementRow } from './retirement.model.js'
import { RetirementSheets } from './retirement-sheets.js'
import { offSince } from './whole-sweeps.js'

/** Opens retirements, says how far they are, and asks the site for what they need. The doing is a job (run-retirement.ts). */
@Injectable()
export class RetirementService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(QUEUE) private readonly queue: PgBoss,
    private readonly sites: SiteService,
    private readonly sheets: RetirementSheets,
    private readonly rehearsals: RehearsalService,
  ) {}

  async place(site: SiteRow): Promise<Retirements> {
    const known = await this.sheets.known(site)
    const outside = await this.sheets.outside(known)
    const { candidates, questions } = retireCandidates(casesOf(known, outside), new Date())
    const rows = inTheirOrder(
      await RetirementRow.findAll({ where: { siteId: site.id }, order: [['id', 'desc']] }),
      known,
    )
    const open = new Set(rows.filter(({ finishedAt }) => finishedAt === null).map(({ slug }) => slug))
    const retirements: Retirement[] = []
    for (const row of rows) retirements.push(await this.sheets.view(site, row, known))
    return {
      candidates: candidates
        .filter(({ addon }) => !open.has(addon))
        .map((candidate) => ({ ...candidate, usedOn: [...candidate.usedOn], tasks: [...candidate.tasks] })),
      idleFeatures: known.cases.flatMap(({ slug, works, verdict }) => {
        const addOn = known.addOns.find((one) => one.slug === slug)!
        const idle = open.has(slug) ? [] : idleFeaturesOf({ works, verdict, features: addOn.features })
        return idle.length === 0
          ? []
          : [
              {
                addon: slug,
                name: addOn.name,
                features: idle.map((feature) => ({ slug: feature.slug, name: feature.name })),
                on: addOn.features.filter(({ on }) => on).length,
              },
            ]
      }),
      questions: questions.map((question) =>
        question.why === 'needed'
          ? {
              ...question,
              about: question.about.map((slug) => known.addOns.find((one) => one.slug === slug)?.name ?? slug),
            }
          : question,
      ),
      retirements,
      sweepId: known.ledger.sweep?.id ?? null,
    }
  }

  async open(site: SiteRow, { slug, features, who = '' }: RetirementOpening): Promise<RetirementSheet> {
    const known = await this.sheets.known(site)
    const addOn = known.addOns.find((one) => one.slug === slug)
    if (addOn && (addOn.kind === 'theme' || addOn.kind === 'built-in'))
      throw new ProblemError(409, `${addOn.name} belongs to the site itself and can’t be taken off.`)
    const subject = !addOn
      ? await this.leftBehind(site, slug)
      : features
        ? someFeatures(addOn, features)
        : {
            ...(await installed(site, addOn, known)),
            // Nobody has to switch off what is off, and it has been watched by all who would have missed it.
            ...(!addOn.active && { offAt: (await offSince(this.sequelize, site.id, slug)) ?? new Date() }),
          }
    try {
      const row = await RetirementRow.create({ siteId: site.id, slug, ...subject })
      await row.update({ log: logged(row, 'Begun.', who) })
      return await this.sheets.sheet(row)
    } catch (error) {
      if (error instanceof UniqueConstraintError)
        throw new ProblemError(409, `${subject.name} is being retired already.`)
      throw error
    }
  }

  /** What is left of add-ons that the site does not have any more, as it tells itself. */
  async leftovers(site: SiteRow): Promise<SiteLeftovers> {
    if (!site.connector) return { leftovers: [] }
    try {
      const found = await this.sites.connectorOf(site).leftovers()
      return { leftovers: found.map((one) => leftoverView(one, null)) }
    } catch (error) {
      if (error instanceof ConnectorError) throw new ProblemError(502, error.message)
      throw error
    }
  }

  /** Of an add-on that went before Unvelt came. @throws ProblemError where nothing is left of it. */
  private async leftBehind(site: SiteRow, owner: string) {
    const left = (await this.leftovers(site)).leftovers.filter(({ of }) => of === owner)
    if (left.length === 0) throw notFound('add-on')
    return {
      name: owner,
      version: null,
      wasGone: true,
      before: perThousand(NO_PAGES),
      tableNames: left.filter(({ type }) => type === 'table').map(({ name }) => name),
      worklist: [],
      leftovers: left,
      lookedAt: new Date(),
    }
  }

  async sheet(id: number): Promise<RetirementSheet> {
    return this.sheets.sheet(await this.find(id))
  }

  async change(
    id: number,
    { successor, word, note = '', watchDays, watchWords, copy, state, who = '' }: RetirementChange,
  ) {
    const row = await this.find(id)
    if (row.finishedAt !== null && state !== 'open') throw new ProblemError(409, 'This retirement is over.')
    if (row.doing && state) throw new ProblemError(409, 'Something is being done at the site for it just now.')
    const said: string[] = []
    if (successor !== undefined)
      said.push(successor ? 'What takes over its job was written down.' : 'What takes over is open again.')
    if (word !== undefined) said.push(word === '' ? 'The owner’s word was taken back.' : `${word} says that it may go.`)
    if (copy !== undefined) {
      const { connector } = (await SiteRow.findByPk(row.siteId))!
      if (connector) throw new ProblemError(409, 'The site itself makes the snapshot.')
      said.push(
        copy === '' ? 'There is no copy of the site after all.' : `A copy of the site was made by hand: ${copy}.`,
      )
    }
    if (watchDays !== undefined) said.push(`To be watched for ${watchDays} days.`)
    if (watchWords !== undefined)
      said.push(`Searches are looked through for ${watchWords.join(', ') || 'the words of its name'}.`)
    if (state === 'done' || state === 'cancelled') await this.mayEnd(row, state)
    if (state) said.push({ open: 'Taken up again.', paused: 'Paused.', cancelled: 'Called off.', done: 'Done.' }[state])
    let log = row.log
    for (const one of said) log = [...log, { at: new Date().toISOString(), said: one, who }]
    await this.refuseBesideAnother(row, state === 'open')
    await row.update({
      ...(successor !== undefined && { successor }),
      ...(word !== undefined && { word: word === '' ? null : { who: word, note, at: new Date().toISOString() } }),
      ...(watchDays !== undefined && { watchDays }),
      ...(watchWords !== undefined && { watchWords: watchWords.length > 0 ? watchWords : null }),
      ...(copy !== undefined && { snapshot: copy === '' ? null : copyByHand(copy) }),
      ...(state && { state, finishedAt: state === 'done' || state === 'cancelled' ? new Date() : null }),
      log,
    })
    await tellRetirement(this.sequelize, { siteId: row.siteId, retirementId: id })
    return this.sheet(id)
  }

  /** Called off, nothing may be left half done; done is what all steps say. */
  private async mayEnd(row: RetirementRow, state: 'done' | 'cancelled'): Promise<void> {
    const sheet = await this.sheet(row.id)
    if (state === 'done') {
      const open = sheet.steps.find((step) => step.state !== 'done')
      if (open) throw new ProblemError(409, `Not yet: ${open.why ?? open.step}`)
    } else if (!sheet.isInstalled && !sheet.wasGone)
      throw new ProblemError(409, 'It is removed. Put it back first, then call it off.')
    // What was off before may stay so.
    else if (row.offAt && row.offAt > row.openedAt && !sheet.isActive)
      throw new ProblemError(409, 'It is off. Switch it on first, then call it off.')
  }

  async changePage(id: number, pageId: number, { owner, due }: WorkPageChange): Promise<RetirementSheet> {
    const row = await this.find(id)
    const worklist = row.worklist.map((entry) =>
      entry.pageId === pageId
        ? { ...entry, ...(owner !== undefined && { owner }), ...(due !== undefined && { due: due || null }) }
        : entry,
    )
    await row.update({ worklist })
    await tellRetirement(this.sequelize, { siteId: row.siteId, retirementId: id })
    return this.sheet(id)
  }

  /** Asks for one thing to be done at the site. What comes too early is refused with what is to be done first. */
  async do(id: number, { act, ids, who = '' }: RetirementDo): Promise<RetirementSheet> {
    const row = await this.find(id)
    const site = (await SiteRow.findByPk(row.siteId))!
    if (!site.connector) throw new ProblemError(409, 'The site has no connector; this is to be done there by hand.')
    if (row.doing) throw new ProblemError(409, 'Something is being done at the site for it already.')
    if (row.state === 'paused' && act !== 'look') throw new ProblemError(409, 'It is paused.')
    const sheet = await this.sheet(id)
    const why = whyNot(act, sheet)
    if (why) throw new ProblemError(409, why)
    if (act === 'clear' && !(ids && ids.length > 0)) throw new ProblemError(422, 'Nothing was chosen.')
    await this.refuseBesideAnother(row, act === 'restore')
    await this.sequelize.transaction(async (transaction) => {
      await row.update(
        {
          doing: act,
          doingIds: ids ?? null,
          failure: null,
          // Going back from a finished one takes it up again.
          ...(act === 'restore' && { finishedAt: null, state: 'open' as const }),
          log: logged(row, ASKED[act], who),
        },
        { transaction },
      )
      const job: RetireJob = { id }
      await this.queue.send(RETIRE, job, { singletonKey: String(id), ...within(transaction) })
    })
    await tellRetirement(this.sequelize, { siteId: row.siteId, retirementId: id })
    return this.sheet(id)
  }

  /** Tries all touched pages without it, by rules that nobody drafts and no visitor sees. */
  async rehearse(id: number, who = ''): Promise<RetirementSheet> {
    const row = await this.find(id)
    const site = (await SiteRow.findByPk(row.siteId))!
    const addOn = await AddOnRow.findOne({ where: { siteId: site.id, slug: row.slug } })
    if (!addOn || addOn.gone) throw new ProblemError(409, 'The site does not have it any more.')
    const place = { level: 'everywhere' } as const
    const rules: Rule[] = row.features
      ? row.features.map((feature) => ({
          id: `retirement-${id}-${feature}`,
          addon: row.slug,
          feature,
          effect: 'skip',
          place,
        }))
      : [{ id: `retirement-${id}`, addon: row.slug, effect: addOn.canSkip ? 'skip' : 'leave-out', place }]
    const { id: rehearsalId } = await this.rehearsals.startFor(site, id, rules, `${row.name} gone`)
    await row.update({ rehearsalId, log: logged(row, 'Rehearsed without it.', who) })
    await tellRetirement(this.sequelize, { siteId: row.siteId, retirementId: id })
    return this.sheet(id)
  }

  /** One that is over is not taken up again beside another of the same add-on. */
  private async refuseBesideAnother({ id, siteId, slug, finishedAt, name }: RetirementRow, isTakenUp: boolean) {
    if (!isTakenUp || finishedAt === null) return
    const other = await RetirementRow.findOne({ where: { siteId, slug, finishedAt: null } })
    if (other && other.id !== id) throw new ProblemError(409, `${name} is being retired already, by another sheet.`)
  }

  private async find(id: number): Promise<RetirementRow> {
    const row = await RetirementRow.findByPk(id)
    if (!row) throw notFound('retirement')
    return row
  }
}
