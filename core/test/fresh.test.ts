import fc from 'fast-check'
import { freshOnes, keptCopy, keptPage, summariseServer, type ServerReading } from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

describe('a kept copy', () => {
  it.each([
    [{ age: '12' }, 'a cache had kept it for 12 s'],
    [{ 'cache-status': 'Front; fwd=miss, "Back"; hit; ttl=30' }, 'the cache Back had it'],
    [{ 'x-page-cache': 'HIT' }, 'the page cache had it (x-page-cache)'],
    [{ 'x-cache': 'stale, revalidating' }, 'the page cache had it (x-cache)'],
  ])('is told by %j', (headers, why) => expect(keptCopy(headers as Record<string, string>)).toBe(why))

  it.each([
    {},
    { age: '0' },
    { age: 'old' },
    { 'x-page-cache': 'miss' },
    { 'x-cache': 'whit' },
    { 'cache-status': 'Front; fwd=miss' },
  ])('is not told by %j', (headers) => expect(keptCopy(headers as Record<string, string>)).toBeNull())
})

const load = (age: string) =>
  reading([
    record('p', { type: 'document', responseHeaders: { age } }),
    record('f', { responseHeaders: { age: '99' } }),
  ])

it('is never averaged with readings made afresh, and stands where nothing else does', () => {
  const [fresh, kept] = [load('0'), load('30')]
  expect(freshOnes([kept, fresh, kept])).toEqual([fresh])
  expect(freshOnes([kept, kept])).toHaveLength(2)
  // A file's own age is no matter of the page.
  expect(keptPage(fresh)).toBeNull()
})

describe('requests without a browser', () => {
  const answer = (part: Partial<ServerReading>): ServerReading => ({
    status: 200,
    firstByteMs: 100,
    endMs: 120,
    bytes: 1000,
    headers: {},
    serverTiming: [],
    ...part,
  })
  const worked = (total: number, slow: number) => [
    { name: 'total', duration: total, description: '' },
    { name: 'addon.slow', duration: slow, description: '' },
    { name: 'addon.slow.db', duration: slow / 2, description: '4' },
  ]

  it('are summed up apart: afresh, and kept', () => {
    const summary = summariseServer([
      answer({ firstByteMs: 500, serverTiming: worked(480, 300) }),
      answer({ firstByteMs: 700, serverTiming: worked(650, 500) }),
      answer({ firstByteMs: 600, serverTiming: worked(590, 400) }),
      answer({ firstByteMs: 5, headers: { age: '3' } }),
      answer({ status: 503 }),
    ])
    expect(summary).toMatchObject({
      fresh: { firstByte: { count: 3, median: 600, least: 500, most: 700 }, siteMs: 590, hostAndNetworkMs: 20 },
      kept: { firstByte: { count: 1, median: 5 }, siteMs: null },
      keptBecause: 'a cache had kept it for 3 s',
      failed: 1,
    })
    expect(summary.fresh!.payers[0]).toEqual({ payer: 'slow', serverMs: 400, queries: 4, queryMs: 200 })
  })

  it('are all counted, once', () => {
    const any = fc.record({
      status: fc.constantFrom(200, 302, 404, 500),
      firstByteMs: fc.nat(5000),
      headers: fc.constantFrom<Record<string, string>>({}, { age: '9' }),
    })
    fc.assert(
      fc.property(fc.array(any), (parts) => {
        const { fresh, kept, failed } = summariseServer(parts.map(answer))
        expect((fresh?.firstByte.count ?? 0) + (kept?.firstByte.count ?? 0) + failed).toBe(parts.length)
      }),
    )
  })
})
