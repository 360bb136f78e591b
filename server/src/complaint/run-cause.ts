import { nextOf, withAnswer, type CauseStage } from '@unvelt/core'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import type { Hold } from '../queue/job.js'
import type { FindCauseJob } from '../queue/queue.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { SiteRow } from '../site/site.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { SURE, type CauseParts, type CauseWay } from './cause-way.js'
import { CauseSearchRow } from './cause.model.js'
import { complaintWay } from './complaint-way.js'
import { guardWay } from './guard-way.js'

const MOST_TRIES = 150

/**
 * Reads the live page without more and more of what it loads, by rules that only the measuring browser gets, until it is known what
 * causes what it complains of, or what a guard misses. What was answered is kept, so it goes on wherever it was broken off.
 * @returns false where it was stopped.
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
  const parts: CauseParts = { tools, search, site: site!, page: page!, lens: lens!, live }
  const way = search.kind === 'guard' ? guardWay : complaintWay
  for (let level = await way.nextLevel(parts); level !== null; level = await way.nextLevel(parts)) {
    if (search.stages.at(-1)?.level !== level)
      await search.update({ stages: [...search.stages, await way.begin(parts, level)] })
    if (!(await runStage(way, parts, hold))) return false
  }
  return true
}

async function runStage(way: CauseWay, parts: CauseParts, hold: Hold): Promise<boolean> {
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
    const answer = await way.ask(parts, stage, next.ask, next.readings)
    hold.check()
    await search.reload()
    if (search.state !== 'running') return false
    await change(search, { ...stage, tries: withAnswer(stage.tries, answer) })
    await hold.progressed()
  }
}

const change = (search: CauseSearchRow, stage: CauseStage) =>
  search.update({ stages: [...search.stages.slice(0, -1), stage] })
