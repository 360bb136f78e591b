import fc from 'fast-check'
import {
  attributeWithSteps,
  cacheLife,
  compression,
  covered,
  DEFAULT_STEPS,
  idleEverywhere,
  neededLater,
  NO_SOURCES,
  stepsFor,
  stepTolls,
  sumTolls,
  unite,
  type Range,
} from '../src/index.js'
import { anyReading, anySources, reading, record } from './reading-arbitrary.js'

const ranges = fc.array(fc.tuple(fc.nat(1000), fc.nat(1000)), { maxLength: 6 }) as fc.Arbitrary<Range[]>

describe('needed later', () => {
  it('is what a step used and the load did not', () => {
    const needed = neededLater({
      fileUse: [{ requestId: 'a', used: [[0, 10]] }],
      laterUse: [
        { requestId: 'a', used: [[5, 15]] },
        { requestId: 'b', used: [[0, 7]] },
      ],
    })
    expect(Object.fromEntries(needed)).toEqual({ a: 5, b: 7 })
  })

  it('and idle on every page never overlap', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(ranges, ranges), { minLength: 1, maxLength: 5 }), (pages) => {
        const loads = unite(...pages.map(([used]) => used))
        const whole = unite(loads, ...pages.map(([, later]) => later))
        const later = covered(whole) - covered(loads)
        expect(idleEverywhere(1000, [whole]) + later + covered(loads)).toBe(1000)
      }),
    )
  })
})

describe('steps', () => {
  it('differ by kind, and the one that may lead away is the last', () => {
    expect(stepsFor('event').map(({ name }) => name)).not.toContain('add to basket')
    expect(stepsFor('product').at(-1)!.name).toBe('add to basket')
    expect(stepsFor('product')).toHaveLength(DEFAULT_STEPS.length)
  })

  it('are charged through what the load brought, and add up to their own requests', () => {
    const asked = record('late', {
      url: 'https://outer.test/x.js',
      transferBytes: 70,
      initiator: {
        type: 'script',
        url: 'https://site.test/a.js',
        stack: [{ url: 'https://site.test/a.js', line: 0, column: 0 }],
      },
    })
    const whole = reading(
      [record('page', { url: 'https://site.test/', type: 'document' }), record('a', { url: 'https://site.test/a.js' })],
      {
        steps: [{ name: 'open the menu', outcome: 'done', requests: [asked] }],
      },
    )
    const sources = { ...NO_SOURCES, ownHosts: ['site.test'], register: { '/a.js': 'menu' } }
    expect(stepTolls(whole, sources)).toMatchObject([
      { step: 'open the menu', tolls: [{ payer: 'menu', requests: 1, transferBytes: 70 }] },
    ])
  })

  it('add up for any reading', () => {
    fc.assert(
      fc.property(anyReading, anyReading, anySources, (load, later, sources) => {
        const requests = later.requests.map((r) => ({ ...r, id: `s${r.id}` }))
        const whole = { ...load, steps: [{ name: 'scroll', outcome: 'done' as const, requests }] }
        const [step] = stepTolls(whole, sources)
        expect(sumTolls(step!.tolls).transferBytes).toBe(requests.reduce((sum, r) => sum + r.transferBytes, 0))
        expect(attributeWithSteps(whole, sources).requests.size).toBe(load.requests.length + requests.length)
      }),
    )
  })
})

describe('cache life', () => {
  const date = 'Wed, 25 Nov 2026 12:00:00 GMT'
  const life = (responseHeaders: Record<string, string>) => cacheLife(record('r', { responseHeaders }))
  it.each([
    [{ 'cache-control': 'public, max-age=3600', age: '600' }, 3000, 'max-age'],
    [{ 'cache-control': 'max-age=10', age: '600' }, 0, 'max-age'],
    [{ 'cache-control': 'no-cache, max-age=3600' }, 0, 'no-cache'],
    [{ 'cache-control': 'no-store' }, 0, 'no-store'],
    [{ date, expires: 'Wed, 25 Nov 2026 13:00:00 GMT' }, 3600, 'expires'],
    [{ date, expires: '0' }, 0, 'expires'],
    [{ date, 'last-modified': 'Wed, 25 Nov 2026 02:00:00 GMT' }, 3600, 'guess'],
    [{}, 0, 'nothing said'],
  ])('by %j', (headers, seconds, by) => expect(life(headers as Record<string, string>)).toEqual({ seconds, by }))

  it('is none where no answer came', () => expect(cacheLife(record('r', { status: null }))).toBeNull())

  it('says how a file was packed, where it could be', () => {
    expect(compression(record('r', { responseHeaders: { 'content-encoding': 'br' } }))).toBe('br')
    expect(compression(record('r', { type: 'style' }))).toBe('none')
    expect(compression(record('r', { type: 'picture' }))).toBeNull()
  })
})
