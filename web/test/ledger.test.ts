import fc from 'fast-check'
import { harmless, tableText } from '../src/ledger/copy-table.js'
import { columnsOf, columnTotal, linesOf, totalOf, valueAt, type Line } from '../src/ledger/lines.js'
import { nameOf } from '../src/ledger/line-names.js'
import { onlyHereRules, picked, pickedFigures, rulesFor, selectionOf, selectionText } from '../src/ledger/selection.js'
import { addressOf, viewOf, type View } from '../src/ledger/view-state.js'
import { BASES, Weighed } from '../src/ledger/weighing.js'
import { aLedger, known } from './a-ledger.js'

const view = (change: Partial<View> = {}) => ({ ...viewOf(new URLSearchParams()), ...change })
const names = (lines: Line[]) => lines.map(nameOf)
const NONE = new Set<string>()

describe('figures', () => {
  it('add up to their margins in every measure, as measured and weighted by visits', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(...[0, 1, 2].map(() => fc.option(fc.nat(1e9)))), { minLength: 1, maxLength: 6 }),
        (rows) => {
          const sheet = aLedger(Object.fromEntries(rows.map((row, n) => [`p${n}`, row])))
          for (const basis of BASES) {
            const weighed = new Weighed(sheet, 'transferBytes', basis)
            const columns = columnsOf(sheet, NONE)
            const lines = linesOf(weighed, view(), known())
            if (basis !== 'share')
              for (const line of lines)
                expect(columns.reduce((sum, column) => sum + valueAt(weighed, line, column), 0)).toBeCloseTo(
                  totalOf(weighed, line),
                  3,
                )
            for (const column of columns)
              expect(lines.reduce((sum, line) => sum + valueAt(weighed, line, column), 0)).toBeCloseTo(
                columnTotal(weighed, column),
                3,
              )
            expect(lines.reduce((sum, line) => sum + totalOf(weighed, line), 0)).toBeCloseTo(weighed.total, 3)
          }
        },
      ),
    ))

  it('of 1,000 page views weigh a page by its share of them, and one whose views are not known by none', () => {
    const weighed = new Weighed(aLedger({ a: [4, 4, 4] }), 'transferBytes', 'visits')
    expect([0, 1, 2].map((page) => weighed.value(0, page))).toEqual([1000, 3000, 0])
    expect(weighed.unvisited).toBe(1)
  })

  it('of a folded kind are the median of its pages, in cells and margin', () => {
    const sheet = aLedger({ a: [10, 99, 20], b: [1, null, 5] })
    const weighed = new Weighed(sheet, 'transferBytes', 'measured')
    const columns = columnsOf(sheet, new Set(['article']))
    expect(columns.map(({ kind, folded }) => [kind, folded])).toEqual([
      ['article', true],
      ['shop', false],
    ])
    const [a] = linesOf(weighed, view(), known())
    expect([valueAt(weighed, a!, columns[0]!), columnTotal(weighed, columns[0]!)]).toEqual([10, 11])
    expect(totalOf(weighed, a!)).toBe(129)
  })

  it('of pages that were not read are left out of medians', () => {
    const sheet = aLedger({ a: [10, 1, null] }, { unreadPages: [2] })
    const weighed = new Weighed(sheet, 'transferBytes', 'measured')
    expect(valueAt(weighed, linesOf(weighed, view(), known())[0]!, columnsOf(sheet, new Set(['article']))[0]!)).toBe(10)
  })
})

describe('rows', () => {
  const sheet = aLedger({
    light: [1, 1, 1],
    heavy: [9, 9, 9],
    spiky: [0, 20, null],
    content: [50, 50, 50],
    idle: [0, 0, 0],
  })
  const weighed = new Weighed(sheet, 'transferBytes', 'measured')
  const shown = (change: Partial<View>, facts = known()) => names(linesOf(weighed, view(change), facts))

  it('stand by their total, what is no add-on last', () =>
    expect(shown({})).toEqual(['heavy', 'spiky', 'light', 'idle', 'content']))
  it('can stand by one page, or by name', () => {
    expect(shown({ sort: '12' }).slice(0, 2)).toEqual(['spiky', 'heavy'])
    expect(shown({ sort: 'name' })[0]).toBe('heavy')
    expect(shown({ sort: '11' })[0]).toBe('heavy')
  })
  it('are filtered by text, verdict, threshold and rest', () => {
    const facts = known([
      { slug: 'heavy', jobs: ['booking'] },
      { slug: 'light', verdict: { verdict: 'keep', why: '', who: '', at: '' } },
    ])
    expect(shown({ text: ' BOOK' }, facts)).toEqual(['heavy'])
    expect(shown({ verdict: 'keep' }, facts)).toEqual(['light'])
    expect(shown({ least: 21 })).toEqual(['heavy', 'content'])
    expect(shown({ hideRest: true })).not.toContain('idle')
  })
  it('are filtered by use: in use anywhere, not seen on every page', () => {
    const told = aLedger(
      { a: [1, 1, 1], b: [1, 1, 1], c: [1, 1, 1] },
      {
        use: { words: ['used', 'not seen'], rows: ['.a.', 'bbb', 'b..'] },
      },
    )
    const by = (use: string) => names(linesOf(new Weighed(told, 'requests', 'measured'), view({ use }), known()))
    expect([by('used'), by('not seen'), by('unknown')]).toEqual([['a'], ['b'], []])
  })
  it('are grouped by job, those of no job last, and a folded group shows its sum', () => {
    const facts = known([
      { slug: 'heavy', jobs: ['share'] },
      { slug: 'light', jobs: ['share'] },
    ])
    const lines = linesOf(weighed, view({ rows: 'job', folded: new Set(['row:share']) }), facts)
    expect(names(lines)).toEqual(['share', 'no job named', 'spiky', 'idle', 'content'])
    expect(totalOf(weighed, lines[0]!)).toBe(30)
  })
  it('open into features and files, which say that they come as long as they have not', () => {
    const opened = new Set(['heavy'])
    expect(shown({ opened })[1]).toBe('Fetching files …')
    const file = (url: string, value: number) => ({
      url,
      type: 'script',
      pageIds: [11],
      values: { transferBytes: [value] },
    })
    const facts = known([], {
      heavy: {
        features: [{ slug: 'f', name: 'Feature', on: true, told: true, usedOn: [] }],
        files: [file('http://own.test/a/small.js', 1), file('http://own.test/a/large.js?v=2', 8)],
      },
    })
    expect(shown({ opened }, facts).slice(0, 4)).toEqual(['heavy', 'Feature', 'large.js', 'small.js'])
    const lines = linesOf(weighed, view({ opened }), facts)
    expect([totalOf(weighed, lines[2]!), valueAt(weighed, lines[2]!, columnsOf(sheet, NONE)[0]!)]).toEqual([8, 8])
  })
})

describe('a view', () => {
  const arbitrary: fc.Arbitrary<Partial<View>> = fc.record(
    {
      measure: fc.constantFrom('requests' as const, 'idleBytes' as const, 'transferBytes' as const),
      basis: fc.constantFrom(...BASES),
      sort: fc.constantFrom('total', 'name', '17'),
      text: fc.string({ maxLength: 20 }),
      verdict: fc.constantFrom(null, 'keep', 'undecided'),
      least: fc.nat(1e6),
      hideRest: fc.boolean(),
      folded: fc.uniqueArray(fc.string({ minLength: 1 })).map((list) => new Set(list)),
    },
    { requiredKeys: [] },
  )
  it('comes back from its address as it was, whatever stands in it', () =>
    fc.assert(
      fc.property(arbitrary, (change) => {
        const address = addressOf(change, new URLSearchParams('sweep=3'))
        expect(viewOf(new URLSearchParams(address.toString()))).toEqual(view(change))
        expect(address.get('sweep')).toBe('3')
      }),
    ))
  it('is the usual one where the address is nonsense', () =>
    expect(viewOf(new URLSearchParams('measure=x&basis=y&sort=<b>&least=-3&verdict=maybe'))).toEqual(view()))
})

describe('a selection', () => {
  const sheet = aLedger({ a: [1, 2, 3], b: [4, 5, 6], content: [7, 8, 9] })
  const weighed = new Weighed(sheet, 'transferBytes', 'measured')
  const lines = linesOf(weighed, view(), known())
  const columns = columnsOf(sheet, NONE)
  const all = { scope: 'cells' as const, anchor: { row: 0, column: 0 }, head: { row: 2, column: 2 } }

  it('stands on the same cells under another order', () => {
    const text = selectionText({ ...all, head: { row: 0, column: 0 } }, lines, columns)
    const other = linesOf(weighed, view({ sort: 'name' }), known())
    expect(other[selectionOf(text, other, columns)!.head.row]).toMatchObject({ key: lines[0]!.key })
    expect(selectionOf('cells~gone~page 11~gone~page 11', lines, columns)).toBeNull()
    expect(selectionOf('nonsense', lines, columns)).toBeNull()
  })
  it('sums what is in it against the pages it is on', () =>
    expect(pickedFigures(sheet, picked({ ...all, head: { row: 0, column: 1 } }, lines, columns))).toMatchObject({
      // Pages stand by kind, so the article of page 13 is the second column.
      tolls: { transferBytes: 4 + 6 },
      pages: { transferBytes: 1 + 4 + 7 + 3 + 6 + 9 },
    }))
  it('drafts for add-ons alone, at the widest place that was meant', () => {
    const at = (scope: 'cells' | 'rows' | 'columns' | 'kind', right: number) =>
      rulesFor(sheet, picked({ ...all, scope, head: { row: 2, column: right } }, lines, columns), () => 'skip').map(
        ({ addon, place }) => [addon, place],
      )
    expect(at('rows', 2)).toEqual([
      ['b', { level: 'everywhere' }],
      ['a', { level: 'everywhere' }],
    ])
    expect(at('cells', 0)[0]).toEqual(['b', { level: 'page', path: '/11' }])
    expect(at('kind', 1)[0]).toEqual(['b', { level: 'kind', kind: 'article' }])
    expect(at('cells', 2)[0]).toEqual(['b', { level: 'set', paths: ['/11', '/13', '/12'] }])
  })
  it('kept only here is left out on all public pages and kept on these', () => {
    const one = picked({ ...all, head: { row: 0, column: 0 } }, lines, columns)
    expect(onlyHereRules(sheet, one, () => 'skip')).toEqual([
      { addon: 'b', effect: 'skip', place: { level: 'area', area: 'public' } },
      { addon: 'b', effect: 'keep', place: { level: 'page', path: '/11' } },
    ])
  })
  it('is copied as a table with its margins, and nothing in it is a formula', () => {
    expect(tableText(weighed, lines.slice(0, 1), columns.slice(0, 2)).split('\n')).toEqual([
      'Add-on\tPage 11\tPage 13\tTotal on all pages',
      'b\t4\t6\t15',
      'Page\t12\t18\t45',
    ])
    expect(harmless('=1+1\tx')).toBe("'=1+1 x")
  })
})
