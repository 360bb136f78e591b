import fc from 'fast-check'
import { serverTolls } from '../src/server-cost/server-tolls.js'
import { tellsServer, timingOfSpans } from '../src/server-cost/timing-of-spans.js'
import { witnessDifferences } from '../src/server-cost/witnesses.js'
import type { Span } from '../src/span/span.js'

const span = (spanId: string, over: Partial<Span> = {}): Span => ({
  ...{ traceId: 'f'.repeat(32), spanId, parentId: null, name: spanId, startMs: 0, endMs: 100 },
  ...{ attributes: {}, server: false, failure: null, ...over },
})
const of = (addon: string) => ({ 'unvelt.addon': addon })
const QUERY = { 'db.query.text': 'select 1' }
const PAGE = span('page', {
  server: true,
  attributes: { 'http.request.method': 'GET', 'unvelt.memory.peak_bytes': 7_000 },
})
const TRACE = [
  PAGE,
  span('draw', { parentId: 'page', startMs: 10, endMs: 70, attributes: of('menu') }),
  span('ask', { parentId: 'draw', startMs: 20, endMs: 30, attributes: { ...of('menu'), ...QUERY } }),
  span('help', { parentId: 'draw', startMs: 40, endMs: 60, attributes: of('helper') }),
]

describe('the server’s work by its spans', () => {
  it('is told as a header would tell it, and charged alike', () => {
    const timing = timingOfSpans(TRACE)!
    expect(tellsServer(timing)).toBe(true)
    expect(Object.fromEntries(serverTolls(timing)!)).toEqual({
      cms: { serverMs: 40, queries: 0, queryMs: 0 },
      menu: { serverMs: 40, queries: 1, queryMs: 10 },
      helper: { serverMs: 20, queries: 0, queryMs: 0 },
    })
    expect(timing).toContainEqual({ name: 'memory', duration: null, description: '7000' })
  })

  it('is not known without the span that answers the request', () => {
    expect(timingOfSpans(TRACE.slice(1))).toBeNull()
    expect(timingOfSpans([])).toBeNull()
    expect(tellsServer([{ name: 'total', duration: null, description: '' }])).toBe(false)
  })

  it('adds up to the whole, whoever works at the same time as whom', () => {
    const part = fc.record({
      from: fc.nat(90),
      ms: fc.nat(60),
      under: fc.nat(8),
      addon: fc.constantFrom('a', 'b', 'c'),
    })
    fc.assert(
      fc.property(fc.array(part, { maxLength: 20 }), (parts) => {
        const spans = parts.map(({ from, ms, under, addon }, n) =>
          span(`s${n}`, {
            ...{ parentId: under < n ? `s${under}` : 'page', startMs: from, endMs: from + ms, attributes: of(addon) },
          }),
        )
        const tolls = serverTolls(timingOfSpans([PAGE, ...spans])!)!
        expect([...tolls.values()].reduce((sum, { serverMs }) => sum + serverMs, 0)).toBeCloseTo(100, 6)
        for (const { serverMs } of tolls.values()) expect(serverMs).toBeGreaterThanOrEqual(-1e-9)
      }),
    )
  })
})

describe('two witnesses', () => {
  it('that say the same do not differ, what nobody is charged for being the CMS’s', () => {
    const timing = timingOfSpans(TRACE)!.filter(({ name }) => name !== 'cms')
    expect(witnessDifferences(timing, TRACE)).toEqual([])
  })

  it('that say something else are told apart, and one alone says nothing', () => {
    const header = timingOfSpans(TRACE)!.map((entry) =>
      entry.name === 'addon.menu' ? { ...entry, duration: 5 } : entry,
    )
    const found = witnessDifferences(
      header.map((entry) => (entry.name === 'addon.menu.db' ? { ...entry, description: '3' } : entry)),
      TRACE,
    )!
    const [cms, menu] = found
    expect(menu).toEqual({ payer: 'menu', timingMs: 5, spansMs: 40, timingQueries: 3, spansQueries: 1 })
    expect(cms).toMatchObject({ payer: 'cms', timingMs: 75, spansMs: 40 })
    expect(witnessDifferences([], TRACE)).toBeNull()
    expect(witnessDifferences(header, TRACE.slice(1))).toBeNull()
  })
})
