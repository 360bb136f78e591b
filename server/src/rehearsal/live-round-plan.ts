import { samplePages } from '@unvelt/core'
import type { LensOfVisit } from './rehearsal-plan.js'

/** So often is each page of a round looked at: twice, to know what moves by itself, and again as long as something fails. */
export const ROUND_LOOKS = { always: 2, whileFailing: 4 }

/** So many pages are looked at where nobody has chosen: of each kind the most visited and one drawn. */
const MOST_PAGES = 24
const OF_EACH_KIND = { mostVisited: 1, drawn: 1 }

interface RoundPage {
  id: number
  kind: string
  area: 'public' | 'office'
  signedIn: boolean
  views: number | null
}

/** The pages of a round: those asked for, else of each kind of the public area one that many see and one that few do. */
export function pagesOfRound<P extends RoundPage>(
  pages: readonly P[],
  asked: readonly number[] | undefined,
  seed: number,
): P[] {
  if (asked) return pages.filter(({ id }) => asked.includes(id))
  const open = pages.filter(({ area }) => area === 'public')
  const { ids } = samplePages([...open], { ...OF_EACH_KIND, seed })
  const chosen = new Set(ids)
  return open
    .filter(({ id }) => chosen.has(id))
    .sort((a, b) => (b.views ?? 0) - (a.views ?? 0))
    .slice(0, MOST_PAGES)
}

/** Each page is seen as its visitors see it: at a desk and on a handset, signed in only where that is the way in. */
export function lensesOfRound<L extends LensOfVisit>(
  { signedIn }: Pick<RoundPage, 'signedIn'>,
  lenses: readonly L[],
): L[] {
  return (['desk', 'handset'] as const).flatMap(
    (device) =>
      lenses.find(
        ({ visit, isCold }) =>
          isCold && visit.device === device && visit.visitor === (signedIn ? 'signed-in' : 'signed-out'),
      ) ?? [],
  )
}
