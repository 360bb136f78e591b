import { MEASURES, type Measure } from '../toll/toll.js'

/** What one sweep charged whom with on which page, as columns: entry n of `page`, `payer` and of each measure belong together. */
export interface SweptCells {
  /** By path, so that pages of two sites find each other. */
  pages: readonly string[]
  payers: readonly string[]
  count: number
  page: ArrayLike<number>
  payer: ArrayLike<number>
  values: Record<Measure, ArrayLike<number>>
}

export type Figures = Record<Measure, number>
/** Figures of either side. */
export interface TwoFigures {
  then: Figures
  now: Figures
}

export interface ComparedSweeps {
  /** Pages that both have read and that are wanted; all figures are of these alone. */
  pages: ({ path: string; weight: number } & TwoFigures)[]
  onlyThen: string[]
  onlyNow: string[]
  /** Of a page in the weighted mean: requests, bytes, ms and counts. */
  mean: TwoFigures
  /** What each payer is charged with of that. */
  payers: ({ slug: string } & TwoFigures)[]
}

export interface CompareOptions {
  wanted?: (path: string) => boolean
  /** How much a page counts for, no less than 0; all alike where it is left out, or where none counts for anything. */
  weightOf?: (path: string) => number
  /** Whose tolls are added up; everybody's where it is left out. */
  counts?: (payer: string) => boolean
}

/**
 * Sets two sweeps side by side, over the pages that both have read. The payers' figures add up to the mean page's, and the pages', by
 * their weights, do too.
 */
export function compareSweeps(
  then: SweptCells,
  now: SweptCells,
  { wanted = () => true, weightOf = () => 1, counts = () => true }: CompareOptions = {},
): ComparedSweeps {
  const inThen = new Set(then.pages)
  const inNow = new Set(now.pages)
  const paths = now.pages.filter((path) => inThen.has(path) && wanted(path))
  const wished = paths.map(weightOf)
  const weights = wished.some((weight) => weight > 0) ? wished : paths.map(() => 1)
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  const sides = { then: sideOf(then, paths, weights, all, counts), now: sideOf(now, paths, weights, all, counts) }
  const both = <T>(of: (side: Side) => T) => ({ then: of(sides.then), now: of(sides.now) })
  const payers = new Set([...sides.then.payers.keys(), ...sides.now.payers.keys()])
  return {
    pages: paths.map((path, n) => ({ path, weight: weights[n]! / all, ...both(({ pages }) => pages[n]!) })),
    onlyThen: then.pages.filter((path) => !inNow.has(path) && wanted(path)),
    onlyNow: now.pages.filter((path) => !inThen.has(path) && wanted(path)),
    mean: both(({ mean }) => mean),
    payers: [...payers].map((slug) => ({ slug, ...both((side) => side.payers.get(slug) ?? nothing()) })),
  }
}

interface Side {
  pages: Figures[]
  payers: Map<string, Figures>
  mean: Figures
}

function sideOf(
  cells: SweptCells,
  paths: readonly string[],
  weights: readonly number[],
  all: number,
  counts: (payer: string) => boolean,
): Side {
  const at = new Map(paths.map((path, n) => [path, n]))
  const pageAt = cells.pages.map((path) => at.get(path))
  const counted = cells.payers.map(counts)
  const side: Side = { pages: paths.map(nothing), payers: new Map(), mean: nothing() }
  for (let i = 0; i < cells.count; i++) {
    const page = pageAt[cells.page[i]!]
    const payer = cells.payer[i]!
    if (page === undefined || !counted[payer]) continue
    const slug = cells.payers[payer]!
    const own = side.payers.get(slug) ?? side.payers.set(slug, nothing()).get(slug)!
    for (const measure of MEASURES) {
      const value = cells.values[measure][i]!
      side.pages[page]![measure] += value
      own[measure] += value * weights[page]!
      side.mean[measure] += value * weights[page]!
    }
  }
  // Divided once at the end, whole numbers stay whole.
  for (const figures of [side.mean, ...side.payers.values()])
    for (const measure of MEASURES) figures[measure] /= all || 1
  return side
}

const nothing = (): Figures => Object.fromEntries(MEASURES.map((measure) => [measure, 0])) as Figures
