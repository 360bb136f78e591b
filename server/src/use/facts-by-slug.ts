import type { UseFact } from '@unvelt/core'
import type { StoredUse } from './use-store.js'

/** What is known of the use of add-ons, by add-on and page. Never changed once it was made, so that many may look into it. */
export class FactsBySlug {
  /** Pages on which a reading has seen each in use. */
  readonly seenOn = new Map<string, ReadonlySet<number>>()
  private readonly pages = new Map<string, Map<number, readonly UseFact[]>>()
  private readonly everywhere = new Map<string, readonly UseFact[]>()

  constructor(facts: readonly StoredUse[]) {
    const seenOn = new Map<string, Set<number>>()
    for (const { slug, pageId, source, word, because } of facts) {
      const fact = { source, word, because }
      if (pageId === null) {
        this.everywhere.set(slug, [...(this.everywhere.get(slug) ?? []), fact])
        continue
      }
      const pages = getOr(this.pages, slug, () => new Map<number, readonly UseFact[]>())
      pages.set(pageId, [...(pages.get(pageId) ?? []), fact])
      if (source === 'reading') getOr(seenOn, slug, () => new Set<number>()).add(pageId)
    }
    this.seenOn = seenOn
  }

  ofAllPages(slug: string): readonly UseFact[] | undefined {
    return this.everywhere.get(slug)
  }

  of(slug: string, pageId: number): readonly UseFact[] | undefined {
    return this.pages.get(slug)?.get(pageId)
  }

  pagesOf(slug: string): Iterable<number> {
    return this.pages.get(slug)?.keys() ?? []
  }
}

function getOr<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key)
  if (known) return known
  const made = make()
  map.set(key, made)
  return made
}
