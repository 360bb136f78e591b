import fc from 'fast-check'
import { MOST_FILES, nextFiles, sparesMost, type TriedInPlace } from '../src/index.js'

/** Goes through an add-on's files on a made-up page until nothing more is to be tried. */
function search(files: readonly string[], breaks: (left: readonly string[]) => boolean): TriedInPlace[] {
  const tries: TriedInPlace[] = []
  for (let next = nextFiles(files, tries); next; next = nextFiles(files, tries)) {
    if (tries.length > 100) throw new Error('it asks for ever')
    const left = next.files!
    tries.push({ ...next, fails: breaks(left), figures: { transferBytes: 10_000 * (files.length - left.length) } })
  }
  return tries
}
const numbered = (count: number) => Array.from({ length: count }, (_, n) => `/f${n}.js`)

describe('only some files of an add-on', () => {
  it('are all those that do no harm, whatever others do, each tried once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: MOST_FILES }), fc.integer({ min: 1, max: 63 }), (count, bits) => {
        const files = numbered(count)
        const needed = files.filter((_, n) => bits & (1 << n))
        fc.pre(needed.length > 0)
        const tries = search(files, (left) => left.some((file) => needed.includes(file)))
        expect(tries.length).toBeLessThanOrEqual(count)
        expect(sparesMost(tries)?.files ?? []).toEqual(files.filter((file) => !needed.includes(file)))
      }),
    )
  })

  it('can go where they are missed only together: nothing that was refused is left out, and one of the two goes', () => {
    const files = numbered(4)
    const tries = search(files, (left) => left.includes('/f0.js') && left.includes('/f2.js'))
    expect(sparesMost(tries)!.files).toEqual(['/f0.js', '/f1.js', '/f3.js'])
  })

  it('are never the whole add-on, which was refused already, and never more than a few are tried', () => {
    expect(nextFiles(['/one.js'], [])).toBeNull()
    for (const { files } of search(numbered(2), () => false)) expect(files).toHaveLength(1)
    expect(search(numbered(30), () => false)).toHaveLength(MOST_FILES)
  })
})

describe('what spares the most', () => {
  const tried = (effect: 'hold' | 'order', transferBytes: number, fails = false): TriedInPlace => ({
    effect,
    fails,
    figures: { transferBytes },
  })
  it('is the least that loads of what breaks nothing, and what was tried first of what spares as much', () => {
    const [hold, order] = [tried('hold', 9_900), tried('order', 9_800)]
    expect(sparesMost([hold, order])).toBe(hold)
    expect(sparesMost([hold, tried('order', 2_000)])).toEqual(tried('order', 2_000))
    expect(sparesMost([hold, tried('order', 2_000, true)])).toBe(hold)
    expect(sparesMost([tried('hold', 1, true)])).toBeNull()
  })
})
