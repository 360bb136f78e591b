import fc from 'fast-check'
import { attribute, elementsByPayer, markedElements, NO_SOURCES, type ElementMaker } from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

const SOURCES = { ...NO_SOURCES, ownHosts: ['site.test'], register: { '/a.js': 'a' } }
const by = (elementMakers: ElementMaker[], elementWriters?: { addon: string; elements: number }[]) => {
  const page = record('page', { url: 'https://site.test/', type: 'document' })
  const file = record('a', { url: 'https://site.test/a.js' })
  const read = reading([page, file], { elementMakers, ...(elementWriters && { elementWriters }) })
  return elementsByPayer(read, attribute(read, SOURCES))
}
const made = (elements: number): ElementMaker => ({
  stack: [{ url: 'https://site.test/a.js', line: 0, column: 0 }],
  elements,
})
const written = (elements: number): ElementMaker => ({ stack: [], elements })

describe('elements by payer', () => {
  it('are those a script made, those an add-on wrote on the server, and the page’s own', () => {
    const payers = by(
      [written(50), made(7)],
      [
        { addon: 'a', elements: 5 },
        { addon: 'walks', elements: 12 },
      ],
    )
    expect(Object.fromEntries(payers)).toEqual({
      content: { written: 33, made: 0 },
      a: { written: 5, made: 7 },
      walks: { written: 12, made: 0 },
    })
  })

  it('add up to what was counted, whatever the site says that its add-ons wrote', () => {
    const writers = fc.array(fc.record({ addon: fc.constantFrom('a', 'b', 'c'), elements: fc.nat(90) }), {
      maxLength: 5,
    })
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.boolean(), fc.nat(100)), { maxLength: 6 }),
        writers,
        (makers, elementWriters) => {
          const counted = makers.map(([byScript, elements]) => (byScript ? made(elements) : written(elements)))
          const payers = by(counted, elementWriters)
          const sum = (of: 'written' | 'made') => [...payers.values()].reduce((all, count) => all + count[of], 0)
          const there = (byScript: boolean) =>
            makers.filter(([by]) => by === byScript).reduce((all, [, elements]) => all + elements, 0)
          expect([sum('written'), sum('made')]).toEqual([there(false), there(true)])
          for (const { written, made } of payers.values()) expect(Math.min(written, made)).toBeGreaterThanOrEqual(0)
        },
      ),
    )
  })

  it('are none where nobody counted', () => expect(by([], [{ addon: 'a', elements: 5 }]).size).toBe(0))
})

describe('marks', () => {
  it('tell who wrote an element, the innermost first', () => {
    const html = `<!doctype html><head><!--unvelt:fonts--><link><!--/unvelt:fonts--></head><body>
      <ul><!-- unvelt:walks --><li><b>One</b><!--unvelt:prices--><i>Two</i><!--/unvelt:prices--></li><!-- /unvelt:walks --><li></li></ul>
      <!--/unvelt:never-begun--><!--unvelt:BAD NAME--><p><template><!--unvelt:later--><p></template></p></body>`
    expect(Object.fromEntries(markedElements(html))).toEqual({ fonts: 1, walks: 2, prices: 1 })
  })

  it('never tell of more elements than there are', () => {
    const piece = fc.constantFrom(
      '<!--unvelt:a-->',
      '<!--/unvelt:a-->',
      '<!--unvelt:b-->',
      '<!--/unvelt:b-->',
      '<p>',
      '<b>x</b>',
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 40 }), (pieces) => {
        const counted = [...markedElements(`<body>${pieces.join('')}`).values()].reduce((all, n) => all + n, 0)
        // A page that opens with a mark has it before its html, head and body.
        expect(counted).toBeLessThanOrEqual(pieces.filter((text) => /^<[pb]/.test(text)).length + 3)
      }),
    )
  })
})
