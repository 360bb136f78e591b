import {
  BYTES_BY_CHANCE,
  fittingParticulars,
  goesWhole,
  nextFiles,
  sparesMost,
  withoutParticulars,
  type GentlerEffect,
  type GuardResult,
  type Rule,
} from '@unvelt/core'
import type { TriedEffect } from '@unvelt/contract'
import { askPage } from '../culprit/ask-page.js'
import { tellRehearsal } from '../events/tell.js'
import { PageRow, rulePage } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import type { FindGentlestJob } from '../queue/queue.js'
import { whatFails } from '../rehearsal/guard-words.js'
import { draftsKey } from '../rehearsal/rehearsal-plan.js'
import { acceptanceOf } from '../rehearsal/rehearsal-view.js'
import { AcceptedRow, RehearsalPageRow, RehearsalRow } from '../rehearsal/rehearsal.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { GentleSearchRow } from './gentle.model.js'
import { loaded } from './loaded.js'

/**
 * Tries one effect after the other in the place of a rule's, where that broke something, until all guards hold there; then whether some
 * of the add-on's files alone spare more. It goes on behind what was tried when it is killed.
 */
export async function runGentle(tools: WorkerTools, { id }: FindGentlestJob, hold: Hold): Promise<void> {
  const search = await GentleSearchRow.findByPk(id)
  if (search?.state !== 'running') return
  const rehearsal = (await RehearsalRow.findByPk(search.rehearsalId))!
  if (rehearsal.state === 'running') return
  const views = await viewsOf(search)
  if (rehearsal.state !== 'done' || views.some(({ state }) => state !== 'done')) {
    const why = rehearsal.failure ?? views.find(({ failure }) => failure !== null)?.failure ?? null
    await endGentle(tools, id, rehearsal.state === 'stopped' ? 'stopped' : 'failed', why)
    return
  }
  const failing = await judgeOf(search)
  if (search.addon !== null && search.tries.length === 0) await keepFirst(search, views, failing)
  for (let next = nextOf(search, views); next; next = nextOf(search, views)) {
    const tried = await tryOn(tools, { rehearsal, views, failing }, draftsWith(search, next))
    hold.check()
    await search.reload()
    if (search.state !== 'running') return
    await search.update({ tries: [...search.tries, { ...next, ...tried }] })
    await hold.progressed()
    await tellRehearsal(tools.sequelize, { siteId: search.siteId, rehearsalId: search.rehearsalId })
  }
  await endGentle(tools, id, 'done', null)
}

/** What fails on a view of the page and nobody has accepted. */
type Failing = (view: RehearsalPageRow, guards: readonly GuardResult[]) => GuardResult | undefined

async function judgeOf({ siteId, pageId, drafts }: GentleSearchRow): Promise<Failing> {
  const [page, accepted] = await Promise.all([PageRow.findByPk(pageId), AcceptedRow.findAll({ where: { siteId } })])
  const key = draftsKey(drafts, rulePage(page!))
  return (view, guards) =>
    guards.find((guard) => guard.outcome === 'fails' && !acceptanceOf(guard, view, key, accepted))
}

/** The views of the page on which all guards have to hold, that one first of which the figures are told. */
async function viewsOf({ rehearsalId, pageId, lensId, addon }: GentleSearchRow): Promise<RehearsalPageRow[]> {
  const all = await RehearsalPageRow.findAll({ where: { rehearsalId, pageId }, order: ['position', 'lensId'] })
  const told = all.filter((view) => view.lensId === lensId)
  return addon === null ? told : [...told, ...all.filter((view) => view.lensId !== lensId)]
}

/** Without the whole add-on the page has been read already. */
async function keepFirst(search: GentleSearchRow, views: RehearsalPageRow[], failing: Failing): Promise<void> {
  const broken = views.flatMap((view) => failing(view, view.guards) ?? [])[0]
  const looks = views[0]!.readings.filter(({ side, look }) => side === 'with' && look)
  await search.update({
    tries: [
      {
        ...search.effects[0]!,
        fails: broken !== undefined,
        why: broken ? whatFails(broken).slice(0, 500) : null,
        readings: views.flatMap(({ readings }) => readings).filter(({ side }) => side === 'with').length,
        figures: loaded(looks.map(({ figures }) => figures)),
      },
    ],
  })
}

/** What is to be tried next: the effects in turn until one breaks nothing, then the files while they could spare more than that. */
function nextOf(
  { effects, tries, files, drafts, draftId }: GentleSearchRow,
  [view]: RehearsalPageRow[],
): GentlerEffect | null {
  const inTurn = tries.filter((one) => !one.files)
  const works = inTurn.find(({ fails }) => !fails)
  if (!works && inTurn.length < effects.length) return effects[inTurn.length]!
  const rule = drafts.find(({ id }) => id === draftId)
  if (rule?.file !== undefined || rule?.feature !== undefined || (works && goesWhole(works))) return null
  const whole = loaded(
    view!.readings.filter(({ side, look }) => side === 'with' && look).map(({ figures }) => figures),
  ).transferBytes
  const best = sparesMost(tries)
  return best && best.figures.transferBytes <= whole + BYTES_BY_CHANCE ? null : nextFiles(files, tries)
}

/** Reads the page, view by view, until a guard fails somewhere. */
async function tryOn(
  tools: WorkerTools,
  { rehearsal, views, failing }: { rehearsal: RehearsalRow; views: RehearsalPageRow[]; failing: Failing },
  drafts: readonly Rule[],
): Promise<Pick<TriedEffect, 'fails' | 'why' | 'readings' | 'figures'>> {
  let readings = 0
  let figures: TriedEffect['figures'] | null = null
  for (const view of views) {
    const answer = await askPage(tools, { rehearsal, view }, drafts, (guards) => !!failing(view, guards))
    readings += answer.readings
    figures ??= loaded(answer.figures)
    const broken = answer.fails ? failing(view, answer.guards) : undefined
    if (broken) return { fails: true, why: whatFails(broken).slice(0, 500), readings, figures }
  }
  return { fails: false, why: null, readings, figures: figures! }
}

/** The drafts with an effect in the place of the one that is looked for, one rule for each file where only some go. */
const draftsWith = ({ drafts, draftId }: GentleSearchRow, { files, ...effect }: GentlerEffect): Rule[] =>
  drafts.flatMap((rule) => {
    if (rule.id !== draftId) return [rule]
    const changed = withEffect(rule, effect)
    return files ? files.map((file, n) => ({ ...changed, file, id: `${rule.id}-${n}` })) : [changed]
  })

/** The same rule with another effect, and nothing of the one before. */
export const withEffect = (rule: Rule, change: GentlerEffect): Rule => ({
  ...withoutParticulars(rule),
  ...fittingParticulars(rule, change),
})

export async function endGentle(
  { sequelize }: Pick<WorkerTools, 'sequelize'>,
  id: number,
  state: 'done' | 'stopped' | 'failed',
  failure: string | null,
): Promise<void> {
  const search = await GentleSearchRow.findByPk(id)
  if (search?.state !== 'running') return
  await search.update({ state, finishedAt: new Date(), ...(failure !== null && { failure }) })
  await tellRehearsal(sequelize, { siteId: search.siteId, rehearsalId: search.rehearsalId })
}
