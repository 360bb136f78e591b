/** What each add-on needs, by slug. */
export type Needs = ReadonlyMap<string, readonly string[]>

/** All that an add-on needs, through any number of others. */
function reached(from: string, needs: Needs): Set<string> {
  const found = new Set<string>()
  const open = [...(needs.get(from) ?? [])]
  while (open.length > 0) {
    const next = open.pop()!
    if (found.has(next)) continue
    found.add(next)
    open.push(...(needs.get(next) ?? []))
  }
  return found
}

/**
 * Those that need an add-on and are needed by it, through whatever others: none of them can go before the other, so they go together.
 * The add-on itself is not among them.
 */
export function circleOf(slug: string, needs: Needs): Set<string> {
  const circle = [...reached(slug, needs)].filter((other) => other !== slug && reached(other, needs).has(slug))
  return new Set(circle)
}

/**
 * The order in which add-ons can go: whoever needs another goes before it. Within that the order they came in stays.
 * @returns all of them, each once.
 */
export function retireOrder(slugs: readonly string[], needs: Needs): string[] {
  const left = [...new Set(slugs)]
  const order: string[] = []
  while (left.length > 0) {
    const isFree = (slug: string) => {
      const circle = circleOf(slug, needs)
      return left.every((other) => other === slug || circle.has(other) || !reached(other, needs).has(slug))
    }
    // Of a circle any is free, so there always is one.
    const next = left.findIndex(isFree)
    order.push(...left.splice(Math.max(0, next), 1))
  }
  return order
}
