import type { CauseLevel, CauseStage, Rule } from '@unvelt/core'
import type { LensRow } from '../lens/lens.model.js'
import type { PageRow } from '../page/page.model.js'
import type { SiteRow } from '../site/site.model.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import type { CauseSearchRow } from './cause.model.js'

/** All that a search needs while it goes on. */
export interface CauseParts {
  tools: WorkerTools
  search: CauseSearchRow
  site: SiteRow
  page: PageRow
  lens: LensRow
  live: { version: number; rules: Rule[] }
}

/** How one kind of thing is looked into: which levels, with which suspects, and how a set of them is tried. */
export interface CauseWay {
  /** The level that is to be searched, begun or not; null once there is nothing more to find. */
  nextLevel(parts: CauseParts): Promise<CauseLevel | null>
  begin(parts: CauseParts, level: CauseLevel): Promise<CauseStage>
  /** Reads the page with a set until it does not show what is asked for, or has shown it so often. */
  ask(
    parts: CauseParts,
    stage: CauseStage,
    set: readonly string[],
    readings: number,
  ): Promise<CauseStage['tries'][number]>
}

/** What shows is seen so often before it is believed. */
export const SURE = 2

/** Whoever was found guilty of the add-ons; none before, or where it is none of them. */
export const guiltyOf = ({ stages }: Pick<CauseSearchRow, 'stages'>): string[] =>
  stages.findLast(({ level, outcome }) => OF_ADD_ONS.has(level) && outcome === 'found')?.found ?? []

const OF_ADD_ONS = new Set<CauseLevel>(['earlier', 'absent', 'addon'])
