import { seeded } from '../random/seeded.js'

/** A page as far as sampling goes. */
export interface SampledPage {
  id: number
  kind: string
  /** Page views; null where they aren't known. */
  views: number | null
}

export interface SamplePlan {
  /** Of each kind, that many of the most visited pages … */
  mostVisited: number
  /** … and that many drawn from the rest. */
  drawn: number
  seed: number
}

export interface Sample {
  /** In the order of the pages. */
  ids: number[]
  /** Share of all known page views that falls on the chosen pages, 0 to 1; null where no views are known. */
  share: number | null
}

/**
 * Chooses pages of a large site: per kind the most visited, and a seeded draw without replacement from the rest (Knuth, The
 * Art of Computer Programming, vol. 2, 3.4.2, algorithm P), so that quiet corners are seen too. The same seed draws the same.
 */
export function samplePages(pages: readonly SampledPage[], { mostVisited, drawn, seed }: SamplePlan): Sample {
  const kinds = new Map<string, SampledPage[]>()
  for (const page of pages) kinds.set(page.kind, [...(kinds.get(page.kind) ?? []), page])
  const chosen = new Set<number>()
  // Kinds in order of their names, so that the draw doesn't hang on the order of the pages.
  for (const kind of [...kinds.keys()].sort()) {
    const ranked = [...kinds.get(kind)!].sort((a, b) => (b.views ?? -1) - (a.views ?? -1) || a.id - b.id)
    for (const { id } of ranked.slice(0, mostVisited)) chosen.add(id)
    for (const { id } of draw(ranked.slice(mostVisited), drawn, seeded(seed + hashOf(kind)))) chosen.add(id)
  }
  return { ids: pages.filter(({ id }) => chosen.has(id)).map(({ id }) => id), share: shareOf(pages, chosen) }
}

/** Share of all known page views that falls on some pages. */
export function shareOf(pages: readonly SampledPage[], chosen: ReadonlySet<number>): number | null {
  const sum = (list: readonly SampledPage[]) => list.reduce((total, { views }) => total + (views ?? 0), 0)
  const all = sum(pages)
  return all === 0 ? null : sum(pages.filter(({ id }) => chosen.has(id))) / all
}

function draw<T>(from: readonly T[], count: number, random: () => number): T[] {
  const left = [...from]
  for (let n = 0; n < Math.min(count, left.length); n++) {
    const at = n + Math.floor(random() * (left.length - n))
    ;[left[n], left[at]] = [left[at]!, left[n]!]
  }
  return left.slice(0, count)
}

const hashOf = (text: string) => [...text].reduce((hash, c) => (hash * 31 + c.codePointAt(0)!) | 0, 7)
