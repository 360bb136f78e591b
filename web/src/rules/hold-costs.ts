import type { AddOn, Effect } from '@unvelt/contract'
import { plural } from '../figures/format.js'

/** What is lost by waiting, by the job that an add-on does; jobs are called by whoever looks after the site. */
const COSTS: [job: RegExp, cost: (views: number | null) => string][] = [
  [
    /\b(?:visit|visitor|view|hit)s?\b.*\bcount|\bcount(?:er|ing)\b|statistic|analytic/i,
    (views) =>
      `Visits that end before it comes are not counted${
        views === null ? '.' : `: it stands on pages with ${plural(views, 'view')} in thirty days.`
      }`,
  ],
  [/spam|captcha|challenge|robot/i, () => 'A form that is sent before it comes may be refused.'],
  [/consent|cookie notice/i, () => 'Nothing that needs consent may come before it.'],
]

/**
 * What holding an add-on back costs, in a sentence; null where nothing is known to be lost.
 * @param views Page views in thirty days on the pages that are meant; null where they are not known.
 */
export function holdCost(effect: Effect, addOn: Pick<AddOn, 'jobs'> | undefined, views: number | null): string | null {
  if (effect !== 'hold' && effect !== 'order') return null
  const found = COSTS.find(([job]) => addOn?.jobs.some((name) => job.test(name)))
  return found ? found[1](views) : null
}

/** Views of the pages that are named, where any of them is counted. */
export function viewsOf(
  pages: readonly { path: string; views: number | null }[],
  paths: ReadonlySet<string>,
): number | null {
  const counted = pages.filter(({ path, views }) => views !== null && paths.has(path))
  return counted.length === 0 ? null : counted.reduce((sum, { views }) => sum + views!, 0)
}
