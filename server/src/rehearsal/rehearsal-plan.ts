import { placeCovers, resolve, samplePages, type Rule, type RulePage, type Visit } from '@unvelt/core'
import type { RehearsalMode } from '@unvelt/contract'
import { EVERY_VISIT, type TouchedPage } from '../rule/deployment/deployment-plan.js'

/** All touched pages are rehearsed where they are no more than so many. */
const FEW = 10
const OF_EACH_KIND = { mostVisited: 2, drawn: 1 }
const MOST = 24

/**
 * The pages to rehearse: all that are touched where they are few, else of each kind the most visited and a seeded draw, each on
 * which something that changes was seen in use, and of each draft one page right outside its place, where nothing may change.
 */
export function pagesToRehearse<P extends TouchedPage>(
  touched: readonly P[],
  all: readonly P[],
  drafts: readonly Rule[],
  inUse: ReadonlySet<number>,
  seed: number,
): P[] {
  const edges = edgePages(all, touched, drafts)
  if (touched.length <= FEW) return [...touched, ...edges]
  const sample = samplePages([...touched], { ...OF_EACH_KIND, seed })
  const chosen = new Set(
    [...touched.filter(({ id }) => inUse.has(id)).map(({ id }) => id), ...sample.ids].slice(0, MOST),
  )
  return [...touched.filter(({ id }) => chosen.has(id)), ...edges]
}

/** For each draft that has a place at all, the most visited page of its area that it does not touch. */
function edgePages<P extends TouchedPage>(all: readonly P[], touched: readonly P[], drafts: readonly Rule[]): P[] {
  const isTouched = new Set(touched.map(({ id }) => id))
  const outside = all
    .filter(({ id, area }) => !isTouched.has(id) && area === 'public')
    .sort((a, b) => (b.views ?? 0) - (a.views ?? 0))
  const found = drafts.flatMap(({ place }) => {
    const kinds = new Set(touched.filter((page) => placeCovers(place, page)).map(({ kind }) => kind))
    return outside.find(({ kind }) => kinds.has(kind)) ?? []
  })
  return [...new Set(found)]
}

export interface LensOfVisit {
  id: number
  visit: Visit
  isCold: boolean
}

/**
 * The lenses that a page is rehearsed under: the first one, and one for each visit for which the drafts do something else than
 * for the others. A page for people who sign in is only seen by such.
 */
export function lensesFor<L extends LensOfVisit>(
  page: RulePage & { signedIn: boolean },
  before: readonly Rule[],
  after: readonly Rule[],
  lenses: readonly L[],
): L[] {
  const isChanged = (visit: Visit) => said(before, page, visit) !== said(after, page, visit)
  const visits = EVERY_VISIT.filter(({ visitor }) => !page.signedIn || visitor === 'signed-in')
  const touched = visits.filter(isChanged)
  // Where nothing may change, one look as a visitor is enough.
  const wanted = touched.length > 0 ? touched : visits.slice(0, 1)
  const found = wanted.flatMap(
    ({ device, visitor }) =>
      lenses.find(({ visit, isCold }) => isCold && visit.device === device && visit.visitor === visitor) ?? [],
  )
  // Without a rule that tells visitors apart, who has signed in sees what others see; looking twice tells nothing new.
  const differs = new Set(
    touched.filter(({ visitor }) => visitor === 'signed-in').map((visit) => said(after, page, visit)),
  )
  const plain = found.filter(
    ({ visit }) =>
      visit.visitor === 'signed-out' ||
      page.signedIn ||
      [...differs].some((one) => one !== said(after, page, { ...visit, visitor: 'signed-out' })),
  )
  return [...new Set(plain)]
}

const said = (rules: readonly Rule[], page: RulePage, visit: Visit) =>
  JSON.stringify(resolve(rules, page, visit).map(({ rules: _, ...effect }) => effect))

/** Readings of one page under one lens, in turn: those that guards look at first, then those that give times. */
export function turnsOf(mode: RehearsalMode): { side: 'without' | 'with'; looks: boolean }[] {
  const looks = (['without', 'with', 'without'] as const).map((side) => ({ side, looks: true }))
  const times = Array.from({ length: TIMED_REPEATS }, () => ['without', 'with'] as const)
    .flat()
    .map((side) => ({ side, looks: false }))
  return mode === 'guards' ? looks : [...looks, ...times]
}

/**
 * Where a guard fails: with these, what comes and goes by itself is blamed on the drafts in 2 of 1,000 rehearsals at the most,
 * since it has to be there in all five readings without them and missing in all four with them (p⁵(1−p)⁴ for a chance p).
 */
export const AGAIN = ['with', 'without', 'with', 'without', 'with', 'without'] as const

/** So many of these do where a page was never seen to move by itself. */
export const ENOUGH_WHERE_STEADY = 2

/** A time gets a word from so many readings a side on. */
const TIMED_REPEATS = 5

/** What tells the drafts on a page apart from others there: what was accepted holds for just these. */
export const draftsKey = (drafts: readonly Rule[], page: RulePage): string =>
  drafts
    .filter(({ place }) => placeCovers(place, page))
    .map(({ id }) => id)
    .sort()
    .join(' ')
