import { useWord, type PageLook, type UseFact, type UseSight, type UseWord } from '@unvelt/core'
import type { AddOnRow } from '../add-on/add-on.model.js'
import type { StoredUse } from './use-store.js'

/** Which pages a sweep has read, and on which of them it took steps. */
export interface Looked {
  read: ReadonlySet<number>
  steps: ReadonlySet<number>
}

/** The use of every add-on of a site on every page, in one word each. */
export class UseWords {
  private readonly facts = new Map<string, Map<number, UseFact[]>>()
  private readonly everywhere = new Map<string, UseFact[]>()
  private readonly silences = new Map<string, readonly UseWord[]>()
  private readonly sights = new Map<string, UseSight>()

  constructor(
    addOns: readonly AddOnRow[],
    facts: readonly StoredUse[],
    private readonly looked: Looked,
    touched: readonly { slug: string; pageId: number; touches: number }[],
  ) {
    for (const { slug, pageId, source, word, because } of facts) this.add(slug, pageId, { source, word, because })
    for (const { slug, pageId, touches } of touched)
      if (touches > 0)
        this.add(slug, pageId, { source: 'visitors', word: 'used', because: `visitors touched it ${touches} times` })
    const seenOn = new Map<string, Set<number>>()
    for (const { slug, pageId, source } of facts)
      if (source === 'reading' && pageId !== null) seenOn.set(slug, (seenOn.get(slug) ?? new Set()).add(pageId))
    for (const { slug, kind, works, blocks } of addOns)
      this.sights.set(slug, {
        works,
        hasBlocks: blocks.length > 0,
        browserOnly: BROWSER_ONLY.includes(kind),
        seenShare: (seenOn.get(slug)?.size ?? 0) / Math.max(1, looked.steps.size),
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
    return this.everywhere.has(slug)
  }

  /** Pages of which something is known by itself. */
  pagesWithFacts(slug: string): Iterable<number> {
    return this.facts.get(slug)?.keys() ?? []
  }

  hasLooked(pageId: number): boolean {
    return this.looked.read.has(pageId)
  }

  /** A word that holds on every page comes first, so that one for the page itself stands above it. */
  factsOf(slug: string, pageId: number): readonly UseFact[] {
    const everywhere = this.everywhere.get(slug)
    const here = this.facts.get(slug)?.get(pageId)
    return everywhere && here ? [...everywhere, ...here] : (here ?? everywhere ?? NO_FACTS)
  }

  private add(slug: string, pageId: number | null, fact: UseFact): void {
    if (pageId === null) {
      this.everywhere.set(slug, [...(this.everywhere.get(slug) ?? []), fact])
      return
    }
    const pages = this.facts.get(slug) ?? new Map<number, UseFact[]>()
    this.facts.set(slug, pages)
    pages.set(pageId, [...(pages.get(pageId) ?? []), fact])
  }
}

/** Kinds that no code of the site's own server belongs to. */
const BROWSER_ONLY = ['outside script', 'font', 'snippet']
/** In the order of `lookedLike`. */
const LOOKS: readonly PageLook[] = [false, true].flatMap((steps) => [false, true].map((read) => ({ read, steps })))
const NO_FACTS: readonly UseFact[] = []
const NO_SIGHT: UseSight = { works: null, hasBlocks: false, browserOnly: false, seenShare: 0 }
