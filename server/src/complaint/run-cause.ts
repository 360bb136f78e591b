import {
  complainsOf,
  nextOf,
  withAnswer,
  type CauseLevel,
  type CauseStage,
  type Complaint,
  type GuardLook,
  type Place,
  type Rule,
} from '@unvelt/core'
import { AddOnRow } from '../add-on/add-on.model.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import type { FindCauseJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { commonOf, mechanismFor } from '../rehearsal/common-subject.js'
import { readRehearsed } from '../rehearsal/read-rehearsed.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { DraftsAtSite } from '../site-http/drafts-at-site.js'
import { signIn } from '../site-http/sign-in.js'
import { SiteRow } from '../site/site.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { suspectAddOns, suspectParts } from './cause-suspects.js'
import { versionsToTry } from './versions-to-try.js'
import { CauseSearchRow } from './cause.model.js'
import { changedBetween, lastTwo } from './page-history.js'

/** A complaint that is there is heard so often before it is believed. */
export const SURE = 2
const MOST_TRIES = 150

interface Parts {
  tools: WorkerTools
  search: CauseSearchRow
  site: SiteRow
  page: PageRow
  lens: LensRow
  live: { version: number; rules: Rule[] }
}

/**
 * Reads the live page without more and more of what it loads, by rules that only the measuring browser gets, until the fewest are
 * known without any of which it does not complain: add-ons first, then features and files of the guilty one. What was answered
 * is kept, so it goes on wherever it was broken off. @returns false where it was stopped.
 */
export async function runCause(tools: WorkerTools, { id }: FindCauseJob, hold: Hold): Promise<boolean> {
  const search = await CauseSearchRow.findByPk(id)
  if (search?.state !== 'running') return false
  const [site, page, lens, live] = await Promise.all([
    SiteRow.findByPk(search.siteId),
    PageRow.findByPk(search.pageId),
    LensRow.findByPk(search.lensId),
    new LiveRulesService().current(search.siteId),
  ])
  const parts: Parts = { tools, search, site: site!, page: page!, lens: lens!, live }
  for (let level = await nextLevel(parts); level !== null; level = await nextLevel(parts)) {
    if (search.stages.at(-1)?.level !== level) await begin(parts, level)
    if (!(await runStage(parts, hold))) return false
  }
  return true
}

/** The level that is to be searched, begun or not; null once there is nothing more to find. */
async function nextLevel({ tools, search, site }: Parts): Promise<CauseLevel | null> {
  const last = search.stages.at(-1)
  if (!last) return 'addon'
  if (last.outcome === null) return last.level
  const ofAddOns = search.stages[0]!
  // What takes several add-ons together lies in none of their files alone, and in no version of one.
  if (ofAddOns.outcome !== 'found' || ofAddOns.found.length !== 1 || last.level === 'version') return null
  if (last.level === 'file') return (await versionsToTry(tools, site, ofAddOns.found[0]!)).length > 0 ? 'version' : null
  if (last.level === 'feature') return 'file'
  const addOn = await AddOnRow.findOne({ where: { siteId: search.siteId, slug: ofAddOns.found[0]! } })
  const switches = addOn?.features.filter(({ on }) => on).length ?? 0
  return switches > 0 && addOn?.canSkip === true && site.connector ? 'feature' : 'file'
}

async function begin({ tools, search, site, page }: Parts, level: CauseLevel): Promise<void> {
  const [sweep, earlier] = await lastTwo(tools.sequelize, page.id)
  const where = {
    site,
    page,
    sweep: sweep!,
    complaint: complaintOf(search),
    changed: changedBetween(earlier?.inventory ?? [], sweep!.inventory),
  }
  if (level === 'version') {
    const versions = await versionsToTry(tools, site, search.stages[0]!.found[0]!)
    const suspects = versions.map((id) => ({ id, reasons: [] }))
    await search.update({ stages: [...search.stages, { level, suspects, tries: [], outcome: null, found: [] }] })
    return
  }
  const suspects =
    level === 'addon'
      ? await suspectAddOns(tools.sequelize, where)
      : await suspectParts(level, search.stages[0]!.found[0]!, where)
  // That the page complains with all of it, and not without any, is known from the stage before.
  const tries = level === 'addon' ? [] : [{ changes: suspects.map((one) => one.id), fails: true, readings: SURE }]
  await search.update({ stages: [...search.stages, { level, suspects, tries, outcome: null, found: [] }] })
}

async function runStage(parts: Parts, hold: Hold): Promise<boolean> {
  const { search } = parts
  for (;;) {
    const stage = search.stages.at(-1)!
    const next = nextOf(stage, SURE)
    if (!('ask' in next)) {
      hold.check()
      await change(search, { ...stage, ...next })
      return true
    }
    if (stage.tries.length >= MOST_TRIES) throw new Error(`No answer after ${MOST_TRIES} questions.`)
    const answer = await ask(parts, stage, next.ask, next.readings)
    hold.check()
    await search.reload()
    if (search.state !== 'running') return false
    await change(search, { ...stage, tries: withAnswer(stage.tries, answer) })
    await hold.progressed()
  }
}

const change = (search: CauseSearchRow, stage: CauseStage) =>
  search.update({ stages: [...search.stages.slice(0, -1), stage] })

/** Reads the page with just some of the suspects until it does not complain, or has complained so often. */
async function ask(
  { tools, search, site, page, lens, live }: Parts,
  stage: CauseStage,
  present: readonly string[],
  readings: number,
): Promise<CauseStage['tries'][number]> {
  const isOfVersions = stage.level === 'version'
  const drafts = isOfVersions ? [] : await leavingOut(search, stage, new Set(present), page.path)
  const common = await commonOf(
    tools,
    { siteId: site.id, liveRules: live.rules, liveVersion: live.version, drafts, mechanism: mechanismFor(site) },
    drafts,
  )
  const cookie = await signIn(site.address, lens.settings, tools.secret, reachOf(site))
  const subject = { ...common, page, lens, cookie }
  const addOns = { [search.stages[0]!.found[0] ?? '']: present[0]! }
  const atSite = new DraftsAtSite(isOfVersions ? { ...common, addOns } : common, { mechanism: mechanismFor(site) })
  try {
    for (let turn = 1; ; turn++) {
      const { reading } = await atSite.reading((name) =>
        readRehearsed(tools, subject, { side: 'with', looks: true, turn, steps: false }, name),
      )
      const complains = reading.look !== null && complainsOf(reading.look, complaintOf(search))
      if (complains) await learnPlace(search, reading.look!)
      if (!complains || turn >= readings) return { changes: [...present], fails: complains, readings: turn }
    }
  } finally {
    await atSite.forget()
  }
}

/** By which rules only those are there that are to be. */
async function leavingOut(
  { siteId, stages }: CauseSearchRow,
  { level, suspects }: CauseStage,
  present: ReadonlySet<string>,
  path: string,
): Promise<Rule[]> {
  const place: Place = { level: 'page', path }
  const absent = suspects.filter(({ id }) => !present.has(id))
  const rows = await AddOnRow.findAll({ where: { siteId }, attributes: ['slug', 'canSkip'] })
  const canSkip = new Set(rows.filter((row) => row.canSkip).map(({ slug }) => slug))
  const guilty = stages[0]!.found[0]!
  return absent.map(({ id }, n): Rule => {
    const rule = { id: `cause-${n + 1}`, place }
    if (level === 'addon') return { ...rule, addon: id, effect: canSkip.has(id) ? 'skip' : 'leave-out' }
    return level === 'feature'
      ? { ...rule, addon: guilty, feature: id, effect: 'skip' }
      : { ...rule, addon: guilty, file: id, effect: 'leave-out' }
  })
}

async function learnPlace(search: CauseSearchRow, { errorPlaces = {} }: GuardLook): Promise<void> {
  if (search.place !== null && search.place !== undefined) return
  const known = Object.entries(errorPlaces).find(([text]) =>
    complainsOf({ errors: [text], failed: [] }, complaintOf(search)),
  )
  if (known) await search.update({ place: known[1] })
}

const complaintOf = ({ kind, text }: CauseSearchRow): Complaint => ({ kind, text })
