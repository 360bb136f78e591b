import { USE_WORDS, type UseWord } from '@unvelt/core'
import type { UseWords } from './use-words.js'

/** The use of add-ons on many pages at once: what silence means is asked once for pages that were looked at alike. */
export class UseColumns {
  private readonly at: ReadonlyMap<number, number>
  private readonly looks: Uint8Array
  private readonly known = new Map<string, Uint8Array>()

  /** @param pageIds The pages, in the order of every column. */
  constructor(
    private readonly words: UseWords,
    private readonly pageIds: readonly number[],
  ) {
    this.at = new Map(pageIds.map((id, index) => [id, index]))
    this.looks = Uint8Array.from(pageIds.map((id) => words.lookedLike(id)))
  }

  word(slug: string, page: number): UseWord {
    return USE_WORDS[this.of(slug)[page]!]!
  }

  /** Indexes of pages on which an add-on is in use or planned. */
  usedOn(slug: string): number[] {
    const column = this.of(slug)
    const isUsed = (page: number) => column[page] === USED || column[page] === PLANNED
    // Silence never says so, so only pages are looked at of which something is known.
    const told = this.words.isSaidOfAll(slug)
      ? [...column.keys()]
      : [...new Set(this.words.pagesWithFacts(slug))].flatMap((id) => this.at.get(id) ?? []).sort((a, b) => a - b)
    return told.filter(isUsed)
  }

  /** For each page the place of its word in `USE_WORDS`. */
  of(slug: string): Uint8Array {
    const known = this.known.get(slug)
    if (known) return known
    const column = this.words.isSaidOfAll(slug) ? this.oneByOne(slug) : this.silences(slug)
    for (const id of this.words.pagesWithFacts(slug)) {
      const page = this.at.get(id)
      if (page !== undefined) column[page] = USE_WORDS.indexOf(this.words.wordOf(slug, id))
    }
    this.known.set(slug, column)
    return column
  }

  private oneByOne = (slug: string) =>
    Uint8Array.from(this.pageIds, (id) => USE_WORDS.indexOf(this.words.wordOf(slug, id)))

  private silences(slug: string): Uint8Array {
    const byLook = this.words.silencesOf(slug).map((word) => USE_WORDS.indexOf(word))
    const column = new Uint8Array(this.looks.length)
    for (let page = 0; page < column.length; page++) column[page] = byLook[this.looks[page]!]!
    return column
  }
}

const USED = USE_WORDS.indexOf('used')
const PLANNED = USE_WORDS.indexOf('planned')
