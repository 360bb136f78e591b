import fc from 'fast-check'
import { normalised, peakMemory, queryGroups, readOtlpTraces, serverSteps, type Span } from '../src/index.js'

const TRACE = '0af7651916cd43dd8448eb211c80319c'
const id = (n: number) => n.toString(16).padStart(16, '0')
const span = (n: number, part: Partial<Span>): Span => ({
  traceId: TRACE,
  spanId: id(n),
  parentId: null,
  name: 'x',
  startMs: 0,
  endMs: 10,
  attributes: {},
  ...part,
})
const raw = (part: object = {}) => ({
  traceId: TRACE,
  spanId: id(1),
  name: 'GET /',
  startTimeUnixNano: '1796000000123456789',
  endTimeUnixNano: '1796000000125456789',
  ...part,
})
const request = (...spans: unknown[]) => ({ resourceSpans: [{ scopeSpans: [{ spans }] }] })

describe('an OTLP request', () => {
  it('is read to the microsecond, with its attributes of every type', () => {
    const attributes = [
      { key: 'a', value: { stringValue: 'text' } },
      { key: 'b', value: { intValue: '7' } },
      { key: 'c', value: { doubleValue: 1.5 } },
      { key: 'd', value: { boolValue: true } },
      { key: 'e', value: { arrayValue: {} } },
    ]
    const read = readOtlpTraces(request(raw({ attributes, parentSpanId: '' })))
    if (!('spans' in read)) throw new Error('refused')
    expect(read.spans[0]).toMatchObject({ parentId: null, attributes: { a: 'text', b: 7, c: 1.5, d: true } })
    expect(read.spans[0]!.endMs - read.spans[0]!.startMs).toBeCloseTo(2, 3)
  })

  it.each([
    [{ traceId: 'short' }, 'traceId'],
    [{ spanId: 7 }, 'spanId'],
    [{ parentSpanId: 'zz' }, 'parentSpanId'],
    [{ startTimeUnixNano: 'now' }, 'startTimeUnixNano'],
    [{ endTimeUnixNano: '1' }, 'endTimeUnixNano'],
  ])('with %j is refused whole, and the place is named', (part, field) => {
    expect(readOtlpTraces(request(raw(), raw(part)))).toMatchObject({
      problems: [{ at: `/resourceSpans/0/scopeSpans/0/spans/1/${field}` }],
    })
  })

  it('of any shape is read or refused, and never thrown at', () => {
    fc.assert(fc.property(fc.anything(), (value) => void readOtlpTraces(value)))
    fc.assert(
      fc.property(
        fc.object({ key: fc.constantFrom('resourceSpans', 'scopeSpans', 'spans', 'x') }),
        (value) => void readOtlpTraces(value),
      ),
    )
  })
})

describe('server steps', () => {
  const trace = [
    span(1, { endMs: 100 }),
    span(2, { parentId: id(1), endMs: 60, attributes: { 'unvelt.addon': 'menu', 'code.function.name': 'draw' } }),
    span(3, { parentId: id(2), endMs: 20, attributes: { 'unvelt.addon': 'helper', 'code.function.name': 'help' } }),
    span(4, {
      parentId: id(2),
      endMs: 5,
      attributes: {
        'unvelt.addon': 'menu',
        'db.query.text': 'select 1 from a where id = 7',
        'db.response.returned_rows': 2,
      },
    }),
    span(5, {
      parentId: id(2),
      endMs: 5,
      attributes: {
        'unvelt.addon': 'menu',
        'db.query.text': 'select 1 from a where id = 8',
        'db.response.returned_rows': 3,
      },
    }),
  ]

  it('have their self time, and the queries they asked', () => {
    expect(serverSteps(trace)).toEqual([
      { addon: 'cms', step: 'x', calls: 1, selfMs: 40, queries: 0, queryMs: 0 },
      { addon: 'menu', step: 'draw', calls: 1, selfMs: 40, queries: 2, queryMs: 10 },
      { addon: 'helper', step: 'help', calls: 1, selfMs: 20, queries: 0, queryMs: 0 },
    ])
  })

  it('add up to the whole trace, where steps lie within each other', () => {
    const nested = fc.array(fc.nat(20), { minLength: 1, maxLength: 30 }).map((lengths) => {
      const spans = [span(0, { startMs: 0, endMs: lengths.reduce((a, b) => a + b, 1) })]
      lengths.forEach((ms, n) =>
        spans.push(span(n + 1, { parentId: id(0), endMs: ms, attributes: { 'unvelt.addon': `a${n % 3}` } })),
      )
      return spans
    })
    fc.assert(
      fc.property(nested, (spans) => {
        const sum = serverSteps(spans).reduce((all, { selfMs }) => all + selfMs, 0)
        expect(sum).toBeCloseTo(spans[0]!.endMs, 6)
      }),
    )
  })

  it('group queries that differ in their values only', () => {
    expect(queryGroups(trace)).toEqual([
      { addon: 'menu', statement: 'select ? from a where id = ?', count: 2, ms: 10, rows: 5 },
    ])
  })

  it.each([
    ["select * from t where a = 'it''s' and b = 12.5", 'select * from t where a = ? and b = ?'],
    ['insert into t1 values (1, 2, 3)', 'insert into t1 values (?)'],
    ['select a\n  from t   where id = $1', 'select a from t where id = $1'],
    ['where x in (?, ?, ?)', 'where x in (?)'],
  ])('normalise %s', (statement, expected) => expect(normalised(statement)).toBe(expected))

  it('tell the most memory', () => {
    expect(peakMemory(trace)).toBeNull()
    expect(peakMemory([span(1, { attributes: { 'unvelt.memory.peak_bytes': 5 } })])).toBe(5)
  })
})
