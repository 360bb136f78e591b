import fc from 'fast-check'
import {
  covered,
  normalised,
  peakMemory,
  queryGroups,
  readOtlpTraces,
  rootsOf,
  serverSteps,
  type Span,
  traceLines,
} from '../src/index.js'

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
  server: false,
  failure: null,
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

describe('the root of a trace', () => {
  it('is the server’s span of a request, or a task that nobody asked for; what a server asks of others is neither', () => {
    const asked = span(1, {
      parentId: id(99),
      server: true,
      endMs: 40,
      attributes: { 'http.request.method': 'POST', 'url.path': '/forms/comment', 'unvelt.memory.peak_bytes': 5e7 },
    })
    const asking = span(2, { parentId: id(1), attributes: { 'http.request.method': 'GET', 'url.path': '/other' } })
    const task = span(3, {
      failure: 'no room',
      attributes: { 'unvelt.task': 'nightly', 'unvelt.addon': 'copy', 'unvelt.site': 'http://a.localhost' },
    })
    const within = span(4, { parentId: id(3), attributes: { 'unvelt.task': 'nightly' } })
    expect(rootsOf([asking, asked, task, within])).toMatchObject([
      { kind: 'request', name: 'POST /forms/comment', ms: 40, peakMemoryBytes: 5e7, failure: null, addon: null },
      { kind: 'task', name: 'nightly', addon: 'copy', site: 'http://a.localhost', failure: 'no room' },
    ])
  })

  it('is told to have failed by an error’s status or the answer’s', () => {
    const attributes = { 'http.request.method': 'GET', 'url.path': '/', 'http.response.status_code': 503 }
    expect(rootsOf([span(1, { server: true, attributes })])[0]!.failure).toBe('status 503')
    const read = readOtlpTraces(request(raw({ kind: 2, status: { code: 2, message: 'out of memory' } })))
    expect('spans' in read && read.spans[0]).toMatchObject({ server: true, failure: 'out of memory' })
  })
})

describe('the lines of a trace', () => {
  const query = (n: number, parent: number, startMs: number, text: string) =>
    span(n, { parentId: id(parent), startMs, endMs: startMs + 1, attributes: { 'db.query.text': text } })

  it('stand below what called them, in time, queries alike in one', () => {
    const lines = traceLines([
      query(5, 3, 24, 'select 3'),
      query(6, 3, 23, 'select other'),
      query(4, 3, 22, 'select 2'),
      span(3, { parentId: id(1), startMs: 21, endMs: 30, name: 'menu' }),
      span(2, { parentId: id(1), startMs: 11, endMs: 15, name: 'header' }),
      span(1, { parentId: id(99), startMs: 10, endMs: 40, name: 'GET /' }),
    ])
    expect(lines.map(({ depth, name, fromMs, ms, times }) => [depth, name, fromMs, ms, times])).toEqual([
      [0, 'GET /', 0, 30, 1],
      [1, 'header', 1, 4, 1],
      [1, 'menu', 11, 9, 1],
      [2, 'select ?', 12, 2, 2],
      [2, 'select other', 13, 1, 1],
    ])
  })

  it('hold every span once, whatever its parents are', () => {
    const made = fc.uniqueArray(fc.tuple(fc.nat(12), fc.option(fc.nat(12), { nil: null }), fc.nat(50)), {
      selector: ([n]) => n,
    })
    fc.assert(
      fc.property(made, (spans) => {
        const lines = traceLines(
          spans.map(([n, parent, startMs]) =>
            span(n, { parentId: parent === null ? null : id(parent), startMs, endMs: startMs + 1 }),
          ),
        )
        expect(new Set(lines.map((line) => line.id)).size).toBe(lines.length)
        // Those of a circle hang below nothing that could be shown.
        expect(lines.length).toBeLessThanOrEqual(spans.length)
        for (const [at, { depth }] of lines.entries()) expect(depth).toBeLessThanOrEqual(at)
      }),
    )
  })
})

describe('own times', () => {
  const at = (id: string, parent: string | null, startMs: number, endMs: number, addon = ''): Span => ({
    traceId: 't', spanId: id, parentId: parent, name: id, startMs, endMs, server: parent === null, failure: null,
    attributes: addon === '' ? {} : { 'unvelt.addon': addon },
  }) // prettier-ignore
  it('of what works side by side share the time', () => {
    const steps = serverSteps([at('root', null, 0, 100), at('x', 'root', 0, 80, 'a'), at('y', 'root', 10, 90, 'b')])
    expect(Object.fromEntries(steps.map(({ addon, selfMs }) => [addon, selfMs]))).toEqual({ a: 45, b: 45, cms: 10 })
  })

  it('are never more together than the outermost spans took, whatever their parents are', () => {
    const ids = ['a', 'b', 'c', 'd', 'e']
    const span = fc.record({
      id: fc.constantFrom(...ids),
      parent: fc.option(fc.constantFrom(...ids, 'gone')),
      start: fc.nat(50),
      ms: fc.nat(50),
    })
    fc.assert(
      fc.property(fc.uniqueArray(span, { maxLength: 5, selector: ({ id }) => id }), (drawn) => {
        const spans = drawn.map(({ id, parent, start, ms }) => at(id, parent, start, start + ms))
        const steps = serverSteps(spans)
        for (const { selfMs } of steps) expect(selfMs).toBeGreaterThanOrEqual(0)
        const whole = covered(spans.map(({ startMs, endMs }): [number, number] => [startMs, endMs]))
        expect(steps.reduce((sum, { selfMs }) => sum + selfMs, 0)).toBeLessThanOrEqual(whole + 1e-9)
      }),
    )
  })

  it('and lines of a trace name a circle', () =>
    expect(traceLines([at('a', 'b', 0, 1), at('b', 'a', 0, 1)]).map(({ name }) => name)).toEqual([
      'a (in a circle)',
      'b',
    ]))
})

it('an OTLP request of a wrong shape is refused with the place', () => {
  expect(readOtlpTraces({ resourceSpans: [{ scopeSpans: 'x' }] })).toEqual({
    problems: [{ at: '/resourceSpans/0/scopeSpans', expected: 'a list' }],
  })
  const span = { traceId: 'a'.repeat(32), spanId: 'b'.repeat(16), startTimeUnixNano: '1', endTimeUnixNano: '2' }
  const read = (attributes: unknown) =>
    readOtlpTraces({ resourceSpans: [{ scopeSpans: [{ spans: [{ ...span, attributes }] }] }] })
  expect(read('x')).toMatchObject({ problems: [{ at: '/resourceSpans/0/scopeSpans/0/spans/0/attributes' }] })
  expect(
    read([
      { key: 'a', value: { intValue: { valueOf: 1, toString: 1 } } },
      { key: '__proto__', value: { stringValue: 'x' } },
    ]),
  ).toMatchObject({ spans: [{}] })
})
