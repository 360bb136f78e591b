import fc from 'fast-check'
import { HarProblem, HarReader, JsonItems, JsonProblem, toHar, type JsonItem, type Reading } from '../src/index.js'
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
