import fc from 'fast-check'
import {
  bySuspicion,
  EFFECTS,
  failsForSame,
  gentlerThan,
  isLead,
  narrow,
  seeded,
  type Rule,
  type Suspect,
  type Tried,
} from '../src/index.js'

/** Asks a made-up page until the search says what breaks it. */
function search(suspects: string[], breaks: (changes: readonly string[]) => boolean, lead = 0) {
  const tried: Tried[] = []
  for (;;) {
    const next = narrow(suspects, tried, lead)
    if ('found' in next) return { found: next.found, tried }
    if (tried.length > 5_000) throw new Error('it asks for ever')
    expect(tried.some(({ changes }) => same(changes, next.ask))).toBe(false)
    tried.push({ changes: next.ask, fails: breaks(next.ask) })
  }
}
const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((one) => b.includes(one))
const numbered = (count: number) => Array.from({ length: count }, (_, n) => `d${n}`)

describe('narrowing', () => {
  it('finds the one among forty in seven answers, and in one where the evidence names it', () => {
    for (const guilty of numbered(40)) {
      const { found, tried } = search(numbered(40), (changes) => changes.includes(guilty))
      expect(found).toEqual([guilty])
      expect(tried.length).toBeLessThanOrEqual(7)
    }
    expect(search(numbered(40), (changes) => changes.includes('d0'), 1).tried).toHaveLength(1)
  })

  it('finds two that break only together, wherever they stand', () => {
    for (const [a, b] of [
      ['d0', 'd1'],
      ['d3', 'd39'],
      ['d19', 'd20'],
    ] as const) {
      const { found, tried } = search(numbered(40), (changes) => changes.includes(a) && changes.includes(b))
      expect(found.sort()).toEqual([a, b].sort())
      expect(tried.length).toBeLessThanOrEqual(16)
    }
  })

  it('does not take a library for guilty that breaks nothing without what needs it', () => {
    // Leaving the library out breaks its user, unless that is left out, too; the form breaks by itself.
    const breaks = (changes: readonly string[]) =>
      changes.includes('form') || (changes.includes('library') && !changes.includes('user'))
    expect(search(['library', 'user', 'form'], breaks).found).toHaveLength(1)
  })

  it('with one suspect there is nothing to ask', () => {
    expect(narrow(['only'], [])).toEqual({ found: ['only'] })
  })

  it('whatever breaks: what is found breaks, and without any one of it does not; what was answered is enough to go on', () => {
    const oracle = fc.record({
      count: fc.integer({ min: 1, max: 24 }),
      sets: fc.array(fc.uniqueArray(fc.integer({ min: 0, max: 23 }), { minLength: 1, maxLength: 4 }), {
        minLength: 1,
        maxLength: 3,
      }),
      /** What keeps a set from breaking: not monotone. */
      healers: fc.array(fc.integer({ min: 0, max: 23 }), { maxLength: 2 }),
      lead: fc.integer({ min: 0, max: 8 }),
    })
    fc.assert(
      fc.property(oracle, ({ count, sets, healers, lead }) => {
        const suspects = numbered(count)
        const breaks = (changes: readonly string[]) =>
          sets.some((set) => set.every((n) => changes.includes(`d${n % count}`))) &&
          (changes.length === count || !healers.some((n) => changes.includes(`d${n % count}`)))
        const { found, tried } = search(suspects, breaks, lead)
        expect(found.length === count || breaks(found)).toBe(true)
        if (found.length > 1)
          for (const one of found) expect(breaks(found.filter((other) => other !== one))).toBe(false)
        expect(narrow(suspects, [...tried].reverse(), lead)).toEqual({ found })
      }),
      { numRuns: 200 },
    )
  })
})

describe('a guard that flickers', () => {
  it('leads nowhere: what is found has failed as often as makes it sure, and holds without any one of it', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.uniqueArray(fc.nat(39), { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 1, max: 1_000_000 }),
        (count, guilty, seed) => {
          const suspects = numbered(count)
          const set = [...new Set(guilty.map((n) => `d${n % count}`))]
          const random = seeded(seed)
          const tried = new Map<string, Tried>()
          for (let asked = 0; ; asked++) {
            expect(asked).toBeLessThan(400)
            const next = narrow(suspects, [...tried.values()], 0, 12)
            if ('found' in next) return expect([...next.found].sort()).toEqual([...set].sort())
            const key = [...next.ask].sort().join()
            let readings = tried.get(key)?.readings ?? 0
            let fails = true
            for (let n = 0; n < next.readings && fails; n++, readings++)
              fails = set.every((id) => next.ask.includes(id)) || random() < 0.15
            tried.set(key, { changes: next.ask, fails, readings })
          }
        },
      ),
      { numRuns: 200 },
    )
  })
})

describe('few suspects', () => {
  const most = (sets: number[][], lead: number) => {
    const breaks = (changes: readonly string[]) => sets.some((set) => set.every((n) => changes.includes(`d${n}`)))
    return search(numbered(12), breaks, lead)
  }

  it('one that the evidence names is found in two questions of it, whatever may flicker', () => {
    const first = narrow(numbered(12), [], 1, 3)
    expect(first).toMatchObject({ ask: ['d0'] })
  })

  it('two that break only together are known once neither breaks it alone', () => {
    const { found, tried } = most([[2, 9]], 0)
    expect(found).toEqual(['d2', 'd9'])
    for (const one of found) expect(tried).toContainEqual({ changes: [one], fails: false })
    expect(tried.length).toBeLessThanOrEqual(12)
  })

  it('four that break only together fit no guess, and are found all the same', () => {
    expect(most([[0, 3, 7, 11]], 0).found.sort()).toEqual(['d0', 'd11', 'd3', 'd7'])
  })
})

describe('suspicion', () => {
  const suspect = (id: string, more: Partial<Suspect> = {}): Suspect => ({
    id,
    addon: id,
    names: [id],
    neededBy: [],
    isUsed: false,
    isThere: true,
    ...more,
  })
  const payerOf = (address: string) => (address.includes('/quillform/') ? 'quillform' : null)

  it('puts what the complaint names before what its file needs, and both before the rest', () => {
    const found = bySuspicion(
      [
        suspect('slider'),
        suspect('rootlib', { neededBy: ['quillform'] }),
        suspect('root-kit', { names: ['Root Kit'] }),
      ],
      { gone: [], came: ['rootKit is not defined at https://site.test/parts/quillform/form.js:12:7'] },
      payerOf,
    )
    expect(found).toEqual([
      { id: 'root-kit', reasons: ['named', 'there'] },
      { id: 'rootlib', reasons: ['needed', 'there'] },
      { id: 'slider', reasons: ['there'] },
    ])
    expect(found.map(isLead)).toEqual([true, true, false])
  })
  it('short names prove nothing', () => {
    expect(bySuspicion([suspect('map')], { gone: ['link: sitemap'], came: [] }, payerOf)[0]!.reasons).toEqual(['there'])
  })
})

describe('the same failure', () => {
  const then = { guard: 'layout' as const, gone: ['navigation “Main” is 300 px high, not 500 px'], came: [] }
  const now = (gone: string[], outcome: 'fails' | 'holds' = 'fails') => [
    { guard: 'layout' as const, outcome, gone, came: [] },
  ]
  it('is about the same thing, whatever its size', () => {
    expect(failsForSame(now(['navigation “Main” is 280.5 px high, not 500 px']), then)).toBe(true)
    expect(failsForSame(now(['banner is gone']), then)).toBe(false)
    expect(failsForSame(now(then.gone, 'holds'), then)).toBe(false)
    expect(failsForSame([{ guard: 'fields', outcome: 'fails', gone: then.gone, came: [] }], then)).toBe(false)
  })
  it('of a picture or a shift is that it fails', () => {
    const shift = { guard: 'shift' as const, gone: [], came: ['layout shift 0.4, not 0.0'], size: 0.4 }
    expect(failsForSame([{ ...shift, outcome: 'fails', came: ['layout shift 0.1, not 0.0'], size: 0.1 }], shift)).toBe(
      true,
    )
  })
})

describe('gentler effects', () => {
  const rule = (more: object) =>
    ({ id: 'r', addon: 'a', effect: 'leave-out', place: { level: 'everywhere' }, ...more }) as Rule
  it('come after the rule’s own, what spares the most first, and are those that the site can carry out', () => {
    expect(gentlerThan(rule({ effect: 'skip' }), ['leave-out', 'order'])).toEqual([
      { effect: 'leave-out' },
      { effect: 'order', order: 'end' },
      { effect: 'order', order: 'async' },
      { effect: 'order', order: 'defer' },
    ])
    expect(gentlerThan(rule({ effect: 'hold', until: 'input' }), ['hold'])).toEqual([{ effect: 'hold', until: 'idle' }])
    // A hold without its particulars is one until the page is idle.
    expect(gentlerThan(rule({ effect: 'hold' }), ['hold'])).toEqual([])
  })
  it('are none of what takes nothing away, and of a part with its own switch', () => {
    for (const effect of ['keep', 'set', 'hint', 'local', 'system-font'])
      expect(gentlerThan(rule({ effect }), EFFECTS)).toEqual([])
    expect(gentlerThan(rule({ effect: 'skip', feature: 'f' }), EFFECTS)).toEqual([])
  })
  it('never lead back', () => {
    fc.assert(
      fc.property(fc.constantFrom(...gentlerThan(rule({ effect: 'skip' }), EFFECTS)), (step) => {
        const further = gentlerThan(rule(step), EFFECTS)
        expect(further).not.toContainEqual(step)
        for (const next of further) expect(gentlerThan(rule(next), EFFECTS).length).toBeLessThan(further.length)
      }),
    )
  })
})
