import fc from 'fast-check'
import {
  covered,
  faceKey,
  readStyleRules,
  toBytes,
  unite,
  usedOfScript,
  usedOfStyle,
  type FunctionCoverage,
  type Range,
  type StyleAnswers,
} from '../src/index.js'

const range = fc.tuple(fc.nat(200), fc.nat(200)) as fc.Arbitrary<Range>
const pointsOf = (ranges: readonly Range[]) => {
  const points = new Set<number>()
  for (const [from, to] of ranges) for (let i = from; i < to; i++) points.add(i)
  return points
}

describe('ranges', () => {
  it('united cover what their parts cover, in order and without overlap', () => {
    fc.assert(
      fc.property(fc.array(range), fc.array(range), (a, b) => {
        const united = unite(a, b)
        expect(pointsOf(united)).toEqual(pointsOf([...a, ...b]))
        united.forEach(([from, to], n) => {
          expect(to).toBeGreaterThan(from)
          if (n > 0) expect(from).toBeGreaterThan(united[n - 1]![1])
        })
        expect(covered([...a, ...b])).toBe(pointsOf([...a, ...b]).size)
      }),
    )
  })

  it('in bytes are those of the same text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), fc.nat(45), fc.nat(45), (text, a, b) => {
        const points = [...text].map((c) => c.length)
        // Offsets that browsers give never stand within a character.
        const place = (n: number) => points.slice(0, n).reduce((sum, length) => sum + length, 0)
        const [from, to] = [place(Math.min(a, b)), place(Math.max(a, b))]
        const bytes = (part: string) => new TextEncoder().encode(part).length
        const expected: Range[] = from < to ? [[bytes(text.slice(0, from)), bytes(text.slice(0, to))]] : []
        expect(toBytes([[from, to]], text)).toEqual(expected)
      }),
    )
  })
})

describe('what of a script has run', () => {
  /** Blocks that nest, as V8 gives them. */
  const block = (from: number, to: number, depth: number): fc.Arbitrary<FunctionCoverage['ranges']> =>
    fc.tuple(fc.nat(3), fc.nat(60), fc.nat(60), fc.nat(60), fc.nat(60)).chain(([count, ...cuts]) => {
      const inside = cuts
        .map((cut) => from + (cut * (to - from)) / 60)
        .map(Math.floor)
        .sort((a, b) => a - b)
      const own = { startOffset: from, endOffset: to, count }
      if (depth === 0 || to - from < 4) return fc.constant([own])
      const [a, b, c, d] = inside as [number, number, number, number]
      return fc
        .tuple(block(a, b, depth - 1), block(Math.max(b, c), Math.max(b, d), depth - 1))
        .map(([left, right]) => [own, ...left, ...right])
    })

  it('is decided by the innermost block, whatever order they come in', () => {
    fc.assert(
      fc.property(block(0, 100, 3), (blocks) => {
        const real = blocks.filter((b) => b.endOffset > b.startOffset)
        const expected = new Set<number>()
        for (let i = 0; i < 100; i++) {
          const inner = real
            .filter((b) => b.startOffset <= i && i < b.endOffset)
            // Of blocks of one size the later one is the inner.
            .reduce((best, b) => (b.endOffset - b.startOffset <= best.endOffset - best.startOffset ? b : best))
          if (inner.count > 0) expected.add(i)
        }
        expect(pointsOf(usedOfScript([{ ranges: blocks }]))).toEqual(expected)
      }),
    )
  })

  it('is nothing where nothing is known', () => expect(usedOfScript([])).toEqual([]))
})

describe('what of a stylesheet is applied', () => {
  const page = (part: Partial<StyleAnswers> & { has?: string[] }): StyleAnswers => ({
    matches: (selector) => part.has?.includes(selector) ?? false,
    media: part.media ?? (() => true),
    supports: part.supports ?? (() => true),
    drawn: part.drawn ?? new Set(),
  })
  const used = (css: string, answers: Parameters<typeof page>[0]) =>
    usedOfStyle(readStyleRules(css), page(answers)).map(([from, to]) => css.slice(from, to))

  it('are the rules whose selector matches, passing states and pseudo-elements left off', () => {
    const css = 'a{x:1} .b:hover{x:2} .c::before,.d{x:3} .e:not(.f){x:4} .g>:hover{x:5}'
    expect(used(css, { has: ['a'] })).toEqual(['a{x:1}'])
    expect(used(css, { has: ['.b'] })).toEqual(['.b:hover{x:2}'])
    expect(used(css, { has: ['.c'] })).toEqual(['.c::before,.d{x:3}'])
    expect(used(css, { has: ['.e:not(.f)'] })).toEqual(['.e:not(.f){x:4}'])
    expect(used(css, { has: ['.g>*'] })).toEqual(['.g>:hover{x:5}'])
  })

  it('count only where their conditions hold', () => {
    const css = '@media print{a{x:1}} @media (min-width:1px){@supports (x:y){a{x:2}}}'
    expect(used(css, { has: ['a'], media: (query) => query !== 'print' })).toEqual(['a{x:2}'])
    expect(used(css, { has: ['a'], media: () => true, supports: () => false })).toEqual(['a{x:1}'])
  })

  it('have faces that are drawn and keyframes that something asks for', () => {
    const css =
      '@font-face{font-family:"One";src:url(a)} @font-face{font-family:Two;src:url(b)} @keyframes turn{to{x:1}} @keyframes idle{to{x:1}} a{animation:2s turn}'
    expect(used(css, { has: ['a'], drawn: new Set([faceKey('two')]) })).toEqual([
      '@font-face{font-family:Two;src:url(b)}',
      '@keyframes turn{to{x:1}}',
      'a{animation:2s turn}',
    ])
    expect(used(css, {})).toEqual([])
  })

  it('have of a family the faces that are drawn, and not its others', () => {
    const face = (more: string) => `@font-face{font-family:"Reed Sans";src:url(a)${more}}`
    const [plain, bold, slanted, spans] = ['', ';font-weight:bold', ';font-style:italic', ';font-weight:200 900']
    const css = [plain, bold, slanted, spans].map(face).join(' ')
    const drawn = (...keys: string[]) => used(css, { drawn: new Set(keys) })
    expect(drawn(faceKey('"Reed Sans"', '700', 'normal'))).toEqual([face(bold!)])
    expect(drawn(faceKey('reed sans', 'normal', 'italic'), faceKey('Reed Sans', '200 900'))).toEqual([
      face(slanted!),
      face(spans!),
    ])
  })

  it('is found whatever was parsed before', () => {
    const openers = ['{'.repeat(300), '@media x{'.repeat(60), `${'a{x:1}'.repeat(50)}${'{('.repeat(100)}`]
    for (const before of openers)
      for (const css of [
        '{}}*/""@keyframes k{',
        '{é}éé},a{x:1}a{x:1}*/',
        '{é}}"{:hover{/*}',
        '{}},@keyframes k{:hover,:hover"',
      ]) {
        const alone = readStyleRules(css)
        readStyleRules(before)
        expect(readStyleRules(css)).toEqual(alone)
      }
  })

  it.each([
    ['blocks', '@media x{', '}'],
    ['brackets', 'a{x:' + '('.repeat(9), ')'.repeat(9) + '}'],
    ['nested rules', '.a{', '}'],
  ])('passes over %s that stand too deep, and reads on behind them', (_, open, close) => {
    const css = `${open.repeat(1_000)}b{x:1}${close.repeat(1_000)} .last{x:2}`
    expect(used(css, { has: ['.last'] })).toEqual(['.last{x:2}'])
    expect(readStyleRules(open.repeat(5_000)).length).toBeLessThan(100)
  })

  it('lies within the text, whatever the text is', () => {
    const piece = fc.constantFrom(
      'a{x:1}',
      '@media x{',
      '}',
      '{',
      '@font-face{',
      ':hover',
      '/*',
      '*/',
      '"',
      '\\',
      ',',
      '@keyframes k{',
      'é',
      '😀',
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 20 }), (pieces) => {
        const css = pieces.join('')
        const all = usedOfStyle(readStyleRules(css), {
          matches: () => true,
          media: () => true,
          supports: () => true,
          drawn: new Set(),
        })
        expect(covered(all)).toBeLessThanOrEqual(css.length)
        for (const [from, to] of all) expect(0 <= from && to <= css.length).toBe(true)
      }),
      { numRuns: 500 },
    )
  })
})
