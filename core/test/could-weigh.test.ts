import fc from 'fast-check'
import { couldWeigh, hasFingerprint, isMinified, keptSeconds, type WeighedFile } from '../src/index.js'

const size = fc.integer({ min: 0, max: 2_000_000 })
const file = fc.record({
  bytes: size,
  encoding: fc.constantFrom('', 'gzip', 'br'),
  plain: size,
  gzip: size,
  brotli: size,
  minified: fc.option(fc.record({ plain: size, gzip: size, brotli: size }), { nil: null }),
}) satisfies fc.Arbitrary<WeighedFile>

describe('what a file could weigh', () => {
  it('packing counts first, and minifying what is left to it', () => {
    const plain = { bytes: 100_000, encoding: '', plain: 100_000, gzip: 30_000, brotli: 28_000 }
    const minified = { plain: 60_000, gzip: 21_000, brotli: 20_000 }
    expect(couldWeigh({ ...plain, minified })).toEqual({ bytes: 20_000, byPacking: 72_000, byMinifying: 8_000 })
    expect(couldWeigh({ ...plain, minified: null })).toEqual({ bytes: 28_000, byPacking: 72_000, byMinifying: 0 })
    // Packed well already, there is only the rest.
    expect(couldWeigh({ ...plain, bytes: 28_000, encoding: 'br', minified })).toMatchObject({
      byPacking: 0,
      byMinifying: 8_000,
    })
  })

  it('what is minified already is seen, and not promised again for a byte or two', () => {
    const done = {
      bytes: 28_000,
      encoding: 'br',
      plain: 100_000,
      gzip: 30_000,
      brotli: 28_000,
      minified: { plain: 99_000, gzip: 29_000, brotli: 27_500 },
    }
    expect(isMinified(done)).toBe(true)
    expect(couldWeigh(done)).toEqual({ bytes: 28_000, byPacking: 0, byMinifying: 0 })
  })

  it('of a file of which nothing is left but comments only packing is offered', () => {
    const broken = {
      bytes: 900,
      encoding: '',
      plain: 900,
      gzip: 300,
      brotli: 280,
      minified: { plain: 0, gzip: 20, brotli: 1 },
    }
    expect(couldWeigh(broken)).toEqual({ bytes: 280, byPacking: 620, byMinifying: 0 })
  })

  it('what is spared and what is left add up to what it weighs, and nothing is ever less than nothing', () => {
    fc.assert(
      fc.property(file, (each) => {
        const { bytes, byPacking, byMinifying } = couldWeigh(each)
        expect(bytes + byPacking + byMinifying).toBe(each.bytes)
        for (const part of [bytes, byPacking, byMinifying]) expect(part).toBeGreaterThanOrEqual(0)
      }),
    )
  })
})

it('an address that changes with its content is told by its name or its version', () => {
  for (const yes of ['app.3f9c2a1b.js', 'app-B7kYz0Qd.css', 'style.css?ver=6.4', 'x.mjs?V=2', 'a_0123456789abcdef.js'])
    expect([yes, hasFingerprint(`https://site.test/parts/${yes}`)]).toEqual([yes, true])
  for (const no of [
    'app.js',
    'jquery-migrate.js',
    'my-slideshow.css',
    'style.css?ver=',
    'app.3f9c2a1b.png',
    'map.js?page=2',
  ])
    expect([no, hasFingerprint(`https://site.test/parts/${no}`)]).toEqual([no, false])
  expect(hasFingerprint('not an address')).toBe(false)
})

it('for how long an answer is kept is read as its grammar says', () => {
  expect(keptSeconds(null)).toBeNull()
  expect(keptSeconds('public, MAX-AGE=31536000, immutable')).toBe(31_536_000)
  expect(keptSeconds('max-age="60"')).toBe(60)
  expect(keptSeconds('no-cache, max-age=60')).toBe(0)
  expect(keptSeconds('private')).toBeNull()
  expect(keptSeconds('max-age=-1, max-age=x')).toBeNull()
})
