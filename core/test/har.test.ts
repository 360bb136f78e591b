import fc from 'fast-check'
import {
  attribute,
  HarProblem,
  HarReader,
  JsonItems,
  JsonProblem,
  NO_SOURCES,
  toHar,
  type JsonItem,
  type Reading,
} from '../src/index.js'
import { anyReading, reading, record } from './reading-arbitrary.js'

const bytesOf = (text: string) => new TextEncoder().encode(text)
/** The text's bytes, cut at any places. */
const cut = (text: string, cuts: number[]) => {
  const bytes = bytesOf(text)
  const at = [0, ...cuts.map((c) => c % (bytes.length + 1)).sort((a, b) => a - b), bytes.length]
  return at.slice(1).map((end, n) => bytes.subarray(at[n], end))
}
const cuts = fc.array(fc.nat(), { maxLength: 12 })

describe('elements of a JSON stream', () => {
  const split = (text: string, at: number[]) => {
    const items = new JsonItems(new Set(['log.entries', 'log.pages']))
    const found: JsonItem[] = []
    for (const chunk of cut(text, at)) found.push(...items.push(chunk))
    items.end()
    return found
  }

  it('are those that JSON.parse finds, wherever the stream is cut', () => {
    const objects = fc.array(
      fc.dictionary(fc.string(), fc.jsonValue()).map((o) => ({ ...o, x: '"\\{[ä😀' })),
      { maxLength: 4 },
    )
    const file = fc.record({
      before: fc.jsonValue(),
      entries: objects,
      other: fc.jsonValue(),
      pages: objects,
      more: fc.jsonValue(),
    })
    fc.assert(
      fc.property(file, cuts, fc.constantFrom(undefined, 2), ({ before, entries, other, pages, more }, at, indent) => {
        const text = JSON.stringify({ before, log: { other, entries, pages }, more }, null, indent)
        const found = split(text, at)
        const of = (path: string) =>
          found.filter((item) => item.path === path).map((item) => JSON.parse(item.text) as unknown)
        expect(of('log.entries')).toEqual(JSON.parse(JSON.stringify(entries)))
        expect(of('log.pages')).toEqual(JSON.parse(JSON.stringify(pages)))
      }),
    )
  })

  it.each([
    ['', 'ends in the middle'],
    ['{"log":{"entries":[{"a":1', 'ends in the middle'],
    ['{"log":]}', 'is not what JSON has here'],
    ['<html>', 'is not what JSON has here'],
    ['{} {}', 'is not what JSON has here'],
  ])('%j is refused with the place', (text, sentence) => {
    expect(() => split(text, [])).toThrow(JsonProblem)
    expect(() => split(text, [])).toThrow(sentence)
  })
})

const file = (readings: Reading[]) => {
  const parts = readings.map((each, n) => toHar(each, `page ${n}`, new Date(1.7e12)))
  return { log: { version: '1.2', pages: parts.map((p) => p.page), entries: parts.flatMap((p) => p.entries) } }
}
const read = (text: string, at: number[] = []) => {
  const reader = new HarReader()
  for (const chunk of cut(text, at)) reader.push(chunk)
  return reader.end()
}

describe('HAR', () => {
  it('written and read again is the same in everything that is charged', () => {
    fc.assert(
      fc.property(fc.array(anyReading, { minLength: 1, maxLength: 3 }), cuts, (readings, at) => {
        const back = read(JSON.stringify(file(readings)), at)
        expect(back).toHaveLength(readings.length)
        back.forEach((got, n) => {
          const charged = ({ url, status, transferBytes, decodedBytes, fromCache }: Reading['requests'][number]) => [
            url,
            status ?? null,
            fromCache ? 0 : transferBytes,
            decodedBytes,
            fromCache,
          ]
          expect(got.requests.map(charged)).toEqual(readings[n]!.requests.map(charged))
          expect(got.url).toBe(readings[n]!.url)
        })
      }),
    )
  })

  it('keeps who asked, redirects and times', () => {
    const first = record('a', { url: 'https://site.test/', type: 'document', startedMs: 0, endedMs: 100 })
    const hop = record('h', { url: 'https://a.test/x', status: 302, startedMs: 110, endedMs: 150 })
    const stack = [{ url: 'https://site.test/m.js', line: 3, column: 9 }]
    hop.initiator = { type: 'script', url: 'https://site.test/m.js', line: 3, stack }
    const last = record('l', {
      url: 'https://b.test/x.js',
      redirectedFrom: 'h',
      initiator: { type: 'redirect' },
      startedMs: 150,
      endedMs: 180,
    })
    const [back] = read(JSON.stringify(file([reading([first, hop, last])])))
    const [, h, l] = back!.requests
    expect(h!.initiator).toEqual(hop.initiator)
    expect(l).toMatchObject({ redirectedFrom: h!.id, initiator: { type: 'redirect' }, startedMs: 150, endedMs: 180 })
  })

  it('of a recorder that knows less is read by what came', () => {
    const entry = {
      startedDateTime: '2026-01-01T00:00:00.000Z',
      time: 12,
      request: { method: 'GET', url: 'https://site.test/' },
      response: {
        status: 200,
        headers: [{ name: 'Server-Timing', value: 'total;dur=40' }],
        headersSize: 100,
        bodySize: 900,
        content: { size: 3000, mimeType: 'text/html; charset=utf-8', text: '<script id="known">1</script>' },
      },
    }
    const [back] = read(JSON.stringify({ log: { entries: [entry] } }))
    expect(back).toMatchObject({
      requests: [{ type: 'document', transferBytes: 1000, decodedBytes: 3000 }],
      serverTiming: [{ name: 'total', duration: 40 }],
      inlineCode: [{ elementId: 'known' }],
    })
  })

  const good = JSON.parse(JSON.stringify(file([reading([record('a', {})])]))) as {
    log: { entries: Record<string, unknown>[] }
  }
  const spoilt = (part: object) =>
    JSON.stringify({ log: { entries: [good.log.entries[0], { ...good.log.entries[0], ...part }] } })
  it.each([
    [
      'an address that is none',
      spoilt({ request: { method: 'GET', url: 'nowhere' } }),
      'log.entries[1].request.url: expected an address',
    ],
    ['no answer', spoilt({ response: undefined }), 'log.entries[1].response: expected an object'],
    ['a date that is none', spoilt({ startedDateTime: 'soon' }), 'log.entries[1].startedDateTime'],
    [
      'headers that are none',
      spoilt({ response: { status: 200, headers: [1], content: {} } }),
      'log.entries[1].response.headers',
    ],
    ['no requests', '{"log":{"entries":[]}}', 'log.entries: expected at least one request'],
    ['an element that is no JSON', '{"log":{"entries":[{"a":tru}]}}', 'log.entries[0]: expected JSON'],
  ])('with %s is refused with the place', (_, text, sentence) => {
    expect(() => read(text)).toThrow(HarProblem)
    expect(() => read(text)).toThrow(sentence)
  })
})

/** A file of one page with these entries. */
const harOf = (...entries: object[]) => {
  const reader = new HarReader()
  reader.push(bytesOf(JSON.stringify({ log: { entries } })))
  return reader.end()[0]!
}
const entry = (part: { response?: object; request?: object } & Record<string, unknown> = {}) => ({
  startedDateTime: '2026-01-01T00:00:00Z',
  time: 5,
  ...part,
  request: { method: 'GET', url: 'https://a.test/', ...part.request },
  response: {
    status: 200,
    headers: [],
    _transferSize: 500,
    ...part.response,
    content: { size: 9, mimeType: 'text/html', ...(part.response as { content?: object })?.content },
  },
})
const header = (name: string, value: string) => ({ name, value })

describe('a HAR entry', () => {
  it.each([
    ['a text that is null', { response: { content: { text: null } } }, 'response.content.text'],
    ['a size that is a text', { response: { content: { size: 'x' } } }, 'response.content.size'],
    ['a stack without frames', { _initiator: { type: 'script', stack: {} } }, '_initiator.stack.callFrames'],
    [
      'a frame’s parent of the wrong kind',
      { _initiator: { stack: { callFrames: [], parent: { callFrames: [{ url: 5 }] } } } },
      '_initiator.stack.parent.callFrames[0].url',
    ],
    ['a priority that is a number', { _priority: 1 }, '_priority'],
    ['a wait that is a text', { timings: { wait: 'x' } }, 'timings.wait'],
    ['a header that is a text', { response: { headers: ['x'] } }, 'response.headers[0]'],
    ['a date that is a number', { startedDateTime: 5 }, 'startedDateTime'],
  ])('with %s is refused with its place', (_, part, place) =>
    expect(() => harOf(entry(part))).toThrow(
      new RegExp(`^log\\.entries\\[0\\]\\.${place.replace(/[.[\]]/g, '\\$&')}: expected`),
    ),
  )

  it('joins several headers of one name where they are a list, and takes the first of others', () => {
    const { requests, serverTiming } = harOf(
      entry({
        response: {
          headers: [
            header('Server-Timing', 'total;dur=100'),
            header('server-timing', 'addon.form;dur=30'),
            header('Cache-Control', 'max-age=3600'),
            header('cache-control', 'public'),
            header('etag', 'a'),
            header('etag', 'b'),
          ],
        },
      }),
    )
    expect(serverTiming.map(({ name, duration }) => [name, duration])).toEqual([['total', 100], ['addon.form', 30]]) // prettier-ignore
    expect(requests[0]!.responseHeaders).toMatchObject({ 'cache-control': 'max-age=3600, public', etag: 'a' })
  })

  it('came from the cache only where somebody says so or nothing else fits', () => {
    const cached = (part: Record<string, unknown>) => harOf(entry(part)).requests[0]!.fromCache
    const held = { cache: { beforeRequest: { hitCount: 1 } } }
    expect(cached({ _fromCache: null })).toBe(false)
    expect(cached({ _fromCache: 'disk' })).toBe(true)
    expect(cached({ ...held, response: { status: 304 } })).toBe(false)
    expect(cached({ ...held, response: { _transferSize: 0 } })).toBe(true)
    expect(cached(held)).toBe(false)
  })

  it('whose size on the wire nobody noted says so', () => {
    const sizes = (response: object) => harOf(entry({ response: { _transferSize: -1, ...response } })).requests[0]!
    expect(sizes({ bodySize: -1 })).toMatchObject({ transferBytes: 0, sizeUnknown: true })
    expect(sizes({ headersSize: 100, bodySize: -1 }).sizeUnknown).toBe(true)
    expect(sizes({ headersSize: 100, bodySize: 50 })).toMatchObject({ transferBytes: 150 })
    expect(sizes({ bodySize: 50 }).sizeUnknown).toBeUndefined()
  })

  it('redirects by its headers alone, and to what has a fragment', () => {
    const to = (part: object) =>
      harOf(entry(), entry({ request: { url: 'https://b.test/1' }, response: { status: 302, ...part } }), entry({ request: { url: 'https://c.test/2' } })).requests[2]!.redirectedFrom // prettier-ignore
    expect(to({ redirectURL: 'https://c.test/2#x' })).toBe('har-1')
    expect(to({ headers: [header('Location', 'https://c.test/2')] })).toBe('har-1')
    expect(to({ redirectURL: '' })).toBeUndefined()
  })

  it('is read or refused with a place, however it is spoilt, and no figure of it is nonsense', () => {
    const whole = entry({
      _initiator: {
        type: 'script',
        url: 'https://a.test/x.js',
        lineNumber: 3,
        stack: { callFrames: [{ url: 'https://a.test/x.js', lineNumber: 3, columnNumber: 0 }] },
      },
      _priority: 'High',
      _resourceType: 'script',
      timings: { wait: 2 },
      cache: {},
      response: {
        httpVersion: 'h2',
        redirectURL: '',
        headersSize: 5,
        bodySize: 9,
        headers: [header('age', '1')],
        content: { text: '<p>' },
      },
    })
    const places = (value: unknown, path: string[] = []): string[][] =>
      typeof value === 'object' && value !== null
        ? Object.entries(value).flatMap(([key, inner]) => [[...path, key], ...places(inner, [...path, key])])
        : []
    const junk = fc.constantFrom<unknown>(
      null,
      5,
      -7,
      'x',
      '',
      true,
      [],
      {},
      ['x'],
      { valueOf: 1 },
      1e300,
      'constructor',
      '__proto__',
      'https://x',
    )
    fc.assert(
      fc.property(fc.constantFrom(...places(whole)), junk, fc.boolean(), (path, value, removes) => {
        const spoilt = structuredClone(whole) as unknown as Record<string, unknown>
        const parent = path.slice(0, -1).reduce((at, key) => at[key] as Record<string, unknown>, spoilt)
        if (removes) delete parent[path.at(-1)!]
        else parent[path.at(-1)!] = value
        try {
          const one = harOf(entry(), spoilt)
          for (const { startedMs, transferBytes, decodedBytes, type, mimeType } of one.requests) {
            for (const figure of [startedMs, transferBytes, decodedBytes]) expect(figure).toBeGreaterThanOrEqual(0)
            expect([typeof type, typeof mimeType]).toEqual(['string', 'string'])
          }
          attribute(one, NO_SOURCES)
        } catch (error) {
          if (!(error instanceof HarProblem)) throw error
          expect(error.at).toMatch(/^log\.entries\[1\]/)
        }
      }),
      { numRuns: 2_000 },
    )
  })
})

describe('a HAR file', () => {
  it('of many requests without a document, or in a chain told backwards, is read all the same', () => {
    const many = Array.from({ length: 20_000 }, (_, n) => entry({ request: { url: `https://a.test/${n}` }, response: { content: { mimeType: 'application/javascript' } }, ...(n > 0 && { _initiator: { type: 'script', url: `https://a.test/${n - 1}` } }) })) // prettier-ignore
    const one = harOf(...many.reverse())
    expect(attribute(one, NO_SOURCES).requests.size).toBe(20_000)
  })
  it('that is too deep is refused', () => {
    const reader = new HarReader()
    expect(() => reader.push(bytesOf('[{"a":'.repeat(20_000)))).toThrow(JsonProblem)
  })
})
