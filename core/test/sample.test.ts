import fc from 'fast-check'
import { parseLogLine, samplePages, viewedPath, ViewCounter, type SampledPage } from '../src/index.js'

const page = fc.record({ kind: fc.constantFrom('article', 'event', 'page'), views: fc.option(fc.nat(10_000)) })
const pages = fc.array(page, { maxLength: 60 }).map((list): SampledPage[] => list.map((p, id) => ({ ...p, id })))
const plan = fc.record({ mostVisited: fc.nat(5), drawn: fc.nat(5), seed: fc.nat(1000) })

describe('a sample', () => {
  it('has of each kind the most visited, and as many drawn as there are', () => {
    fc.assert(
      fc.property(pages, plan, (all, asked) => {
        const { ids, share } = samplePages(all, asked)
        expect(new Set(ids).size).toBe(ids.length)
        for (const kind of new Set(all.map((p) => p.kind))) {
          const of = all.filter((p) => p.kind === kind)
          const chosen = of.filter((p) => ids.includes(p.id))
          expect(chosen).toHaveLength(Math.min(of.length, asked.mostVisited + asked.drawn))
          const least = [...of].sort((a, b) => (b.views ?? -1) - (a.views ?? -1))[asked.mostVisited - 1]
          if (least) for (const p of of) if ((p.views ?? -1) > (least.views ?? -1)) expect(ids).toContain(p.id)
        }
        if (share !== null) expect(share).toBeGreaterThanOrEqual(0)
        if (ids.length === all.length && share !== null) expect(share).toBe(1)
      }),
    )
  })

  it('is the same for the same seed, whatever the order of the pages, and another for another', () => {
    const all = Array.from({ length: 200 }, (_, id): SampledPage => ({ id, kind: 'article', views: null }))
    const draw = (seed: number, list = all) => samplePages(list, { mostVisited: 0, drawn: 10, seed }).ids
    expect(draw(1)).toEqual(draw(1))
    expect([...draw(1, [...all].reverse())].sort()).toEqual([...draw(1)].sort())
    expect(draw(1)).not.toEqual(draw(2))
    expect(samplePages(all, { mostVisited: 1, drawn: 1, seed: 1 }).share).toBeNull()
  })
})

describe('a log line', () => {
  const line = (request: string, status = '200', agent = 'A visitor') =>
    `198.51.100.7 - - [25/Nov/2026:10:00:00 +0000] "${request}" ${status} 512 "-" "${agent}"`

  it('is read, with more fields behind it and quotes within', () => {
    expect(parseLogLine(`${line('GET /a?b=1 HTTP/1.1', '304', 'An \\"odd\\" one')} "host" 77`)).toEqual({
      method: 'GET',
      target: '/a?b=1',
      status: 304,
      userAgent: 'An \\"odd\\" one',
    })
  })

  it.each(['', 'nonsense', line('GET').replace('"GET"', '"GET'), line('GET /x HTTP/1.1').slice(0, 60)])(
    '%j is none',
    (text) => expect(parseLogLine(text)).toBeNull(),
  )

  it('survives any text in no time', () => {
    fc.assert(fc.property(fc.string({ maxLength: 400 }), (text) => void parseLogLine(text)))
    const began = performance.now()
    parseLogLine('"'.repeat(50_000) + ' ['.repeat(50_000))
    expect(performance.now() - began).toBeLessThan(1000)
  })

  it.each([
    ['GET', 200, '/a'],
    ['GET', 304, '/a'],
    ['POST', 200, null],
    ['GET', 404, null],
  ])('%s with %i shows %s', (method, status, path) =>
    expect(viewedPath({ method, target: '/a?x#y', status, userAgent: '' })).toBe(path),
  )

  it('is counted as a view, as a bot’s, as no page, or as bad', () => {
    const counter = new ViewCounter(
      (path) => path === '/a',
      (agent) => agent.includes('bot'),
    )
    for (const text of [
      line('GET /a HTTP/1.1'),
      line('GET /a?utm=1 HTTP/2.0'),
      line('GET /a HTTP/1.1', '200', 'a bot'),
      line('GET /a.css HTTP/1.1'),
      'broken',
      '',
    ])
      counter.take(text)
    expect(counter).toMatchObject({
      lines: 5,
      views: 2,
      bots: 1,
      passedOver: 1,
      bad: 1,
      badLines: [{ line: 5, text: 'broken' }],
    })
    expect([...counter.byPath]).toEqual([['/a', 2]])
  })
})
