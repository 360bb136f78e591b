import { useWord, type PageLook, type UseFact, type UseSight, type UseWord } from '@unvelt/core'
import type { AddOnRow } from '../add-on/add-on.model.js'
import type { FactsBySlug } from './facts-by-slug.js'

/** Which pages a sweep has read, and on which of them it took steps. */
export interface Looked {
  read: ReadonlySet<number>
  steps: ReadonlySet<number>
}

/** The use of every add-on of a site on every page, in one word each. */
export class UseWords {
  private readonly touched = new Map<string, Map<number, UseFact>>()
  private readonly silences = new Map<string, readonly UseWord[]>()
  private readonly sights = new Map<string, UseSight>()

  constructor(
    addOns: readonly AddOnRow[],
    private readonly facts: FactsBySlug,
    private readonly looked: Looked,
    touched: readonly { slug: string; pageId: number; touches: number }[],
  ) {
    for (const { slug, pageId, touches } of touched)
      if (touches > 0) {
        const pages = this.touched.get(slug) ?? new Map<number, UseFact>()
        this.touched.set(slug, pages)
        pages.set(pageId, { source: 'visitors', word: 'used', because: `visitors touched it ${touches} times` })
      }
    for (const { slug, kind, works, blocks } of addOns)
      this.sights.set(slug, {
        works,
        hasBlocks: blocks.length > 0,
        browserOnly: BROWSER_ONLY.includes(kind),
        seenShare: (facts.seenOn.get(slug)?.size ?? 0) / Math.max(1, looked.steps.size),
      })
  }

  wordOf(slug: string, pageId: number): UseWord {
    const facts = this.factsOf(slug, pageId)
    const look = this.lookedLike(pageId)
    return facts.length === 0
      ? this.silencesOf(slug)[look]!
      : useWord(facts, this.sights.get(slug) ?? NO_SIGHT, LOOKS[look]!)
  }

  /** How a page was looked at: an index into what `silencesOf` gives. */
  lookedLike(pageId: number): number {
    return Number(this.looked.read.has(pageId)) + 2 * Number(this.looked.steps.has(pageId))
  }

  /** What it means that nothing is known, by how a page was looked at; that is the same for most pages of a site. */
  silencesOf(slug: string): readonly UseWord[] {
    let words = this.silences.get(slug)
    if (!words) {
      words = LOOKS.map((look) => useWord([], this.sights.get(slug) ?? NO_SIGHT, look))
      this.silences.set(slug, words)
    }
    return words
  }

  /** Whether something is known of it that holds on every page. */
  isSaidOfAll(slug: string): boolean {
    return this.facts.ofAllPages(slug) !== undefined
  }

  /** Pages of which something is known by itself. */
  *pagesWithFacts(slug: string): Iterable<number> {
    yield* this.facts.pagesOf(slug)
    yield* this.touched.get(slug)?.keys() ?? []
  }

  hasLooked(pageId: number): boolean {
    return this.looked.read.has(pageId)
  }

  /** A word that holds on every page comes first, so that one for the page itself stands above it. */
  factsOf(slug: string, pageId: number): readonly UseFact[] {
    const everywhere = this.facts.ofAllPages(slug)
    const here = this.facts.of(slug, pageId)
    const touched = this.touched.get(slug)?.get(pageId)
    if (!touched && !(everywhere && here)) return here ?? everywhere ?? NO_FACTS
    return [...(everywhere ?? []), ...(here ?? []), ...(touched ? [touched] : [])]
  }
}

/** Kinds that no code of the site's own server belongs to. */
const BROWSER_ONLY = ['outside script', 'font', 'snippet']
/** In the order of `lookedLike`. */
const LOOKS: readonly PageLook[] = [false, true].flatMap((steps) => [false, true].map((read) => ({ read, steps })))
const NO_FACTS: readonly UseFact[] = []
const NO_SIGHT: UseSight = { works: null, hasBlocks: false, browserOnly: false, seenShare: 0 }
