import fc from 'fast-check'
import { smallerPage, smallestSoFar, type DocumentPart, type TriedDocument } from '../src/index.js'

/** html > (head > a script, a title), (body > (p > b), (div > span), a script) */
const PAGE: DocumentPart[] = [
  { parent: null, isFixed: true },
  { parent: 0, isFixed: true },
  { parent: 1 },
  { parent: 1 },
  { parent: 0, isFixed: true },
  { parent: 4 },
  { parent: 5 },
  { parent: 4 },
  { parent: 7 },
  { parent: 4 },
]

function search(parts: readonly DocumentPart[], complains: (kept: readonly number[]) => boolean) {
  const tried: TriedDocument[] = []
  for (;;) {
    const next = smallerPage(parts, tried)
    if ('found' in next) return { found: next.found, tried }
    expect(tried.length).toBeLessThan(2_000)
    tried.push({ kept: next.ask, fails: complains(next.ask) })
  }
}
const has = (kept: readonly number[], ...ids: number[]) => ids.every((id) => kept.includes(id))

describe('the smallest page', () => {
  it('is what it complains for, and what that lies in', () => {
    expect(search(PAGE, (kept) => has(kept, 2, 8)).found).toEqual([0, 1, 2, 4, 7, 8])
  })

  it('is next to nothing where nothing of it is needed', () => {
    const { found, tried } = search(PAGE, () => true)
    expect(found).toEqual([0, 1, 4])
    expect(tried).toHaveLength(1)
  })

  it('goes on from what was tried, and knows the smallest so far', () => {
    const { found, tried } = search(PAGE, (kept) => has(kept, 9))
    expect(smallerPage(PAGE, [...tried].reverse())).toEqual({ found })
    expect(smallestSoFar(PAGE, tried)).toEqual(found)
    expect(smallestSoFar(PAGE, [])).toHaveLength(PAGE.length)
  })

  it('always complains, and does not with any part taken away', () => {
    const documents = fc
      .array(fc.nat(), { minLength: 1, maxLength: 60 })
      .map((list) => list.map((n, id): DocumentPart => ({ parent: id === 0 ? null : n % id })))
    fc.assert(
      fc.property(documents, fc.uniqueArray(fc.nat(59), { maxLength: 3 }), (parts, wanted) => {
        const needed = [...new Set(wanted.map((n) => n % parts.length))]
        const { found } = search(parts, (kept) => has(kept, ...needed))
        expect(has(found, ...needed)).toBe(true)
        const above = (id: number): number[] => (parts[id]!.parent === null ? [id] : [id, ...above(parts[id]!.parent!)])
        expect([...found].sort()).toEqual([...new Set(needed.flatMap(above))].sort())
      }),
      { numRuns: 100 },
    )
  })
})
