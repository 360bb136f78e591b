import fc from 'fast-check'
import {
  fileTolls,
  attribute,
  fromCycloneDx,
  KINDS_LISTED,
  NO_SOURCES,
  slugOf,
  sumTolls,
  toCycloneDx,
  tolls,
  type FileToll,
  type Reading,
} from '../src/index.js'
import { anyReading, reading, record } from './reading-arbitrary.js'

const entry = fc.record({
  slug: fc.stringMatching(/^[a-z0-9]{1,12}$/),
  name: fc.string({ minLength: 1, maxLength: 30 }).filter((name) => slugOf(name) !== ''),
  kind: fc.constantFrom(...KINDS_LISTED),
  version: fc.option(fc.string({ minLength: 1, maxLength: 10 })),
  author: fc.option(fc.string({ minLength: 1, maxLength: 10 })),
  summary: fc.string({ maxLength: 40 }),
})

describe('an inventory as CycloneDX', () => {
  it('comes back as it went', () =>
    fc.assert(
      fc.property(fc.uniqueArray(entry, { selector: ({ slug }) => slug, maxLength: 8 }), (list) => {
        const addOns = list.map((each, n) => ({ ...each, needs: n > 0 ? [list[0]!.slug] : [] }))
        const document = toCycloneDx({ name: 'Site', address: 'https://site.test' }, addOns, '2026-11-25T00:00:00Z')
        expect(fromCycloneDx(JSON.parse(JSON.stringify(document)))).toEqual(addOns)
      }),
    ))
  it.each<[object, string]>([
    [{}, '/bomFormat: expected "CycloneDX"'],
    [{ bomFormat: 'CycloneDX' }, '/components: expected a list'],
    [{ bomFormat: 'CycloneDX', components: [{ name: 'a' }, { version: 3 }] }, '/components/1/name: expected a text'],
    [{ bomFormat: 'CycloneDX', components: [{ name: 'a', version: 3 }] }, '/components/0/version: expected a text'],
    [
      { bomFormat: 'CycloneDX', components: [{ name: '***' }] },
      '/components/0/name: expected a name with a letter or digit',
    ],
    [{ bomFormat: 'CycloneDX', components: [], dependencies: [7] }, '/dependencies/0: expected an object'],
  ])('%j is refused with the place', (document, message) => expect(() => fromCycloneDx(document)).toThrow(message))
})

it('times of single files are those of the repeat whose times count, and no byte is of it', () =>
  fc.assert(
    fc.property(anyReading, anyReading, (one, clock) => {
      const charged = (of: Reading) => ({ reading: of, attribution: attribute(of, NO_SOURCES) })
      const list = fileTolls(one, charged(one).attribution, charged(clock))
      const sum = (of: FileToll[], measure: 'transferBytes' | 'mainThreadMs') =>
        of.reduce((all, file) => all + file[measure], 0)
      const own = (of: Reading) => fileTolls(of, charged(of).attribution)
      expect(sum(list, 'transferBytes')).toBe(sum(own(one), 'transferBytes'))
      expect(sum(list, 'mainThreadMs')).toBeCloseTo(sum(own(clock), 'mainThreadMs'), 6)
    }),
  ))

it('tolls of single files add up to what was transferred and asked for, each address once a payer', () =>
  fc.assert(
    fc.property(
      fc.array(fc.record({ n: fc.nat(3), host: fc.constantFrom('own.test', 'far.test'), bytes: fc.nat(1e6) }), {
        maxLength: 12,
      }),
      (files) => {
        const one = reading(
          files.map(({ n, host, bytes }, at) =>
            record(`r${at}`, { url: `https://${host}/${n}.js`, transferBytes: bytes, decodedBytes: bytes * 2 }),
          ),
        )
        const attribution = attribute(one, { ...NO_SOURCES, ownHosts: ['own.test'] })
        const list = fileTolls(one, attribution)
        const sum = sumTolls(tolls(one, attribution))
        const of = (measure: 'requests' | 'transferBytes' | 'decodedBytes') =>
          list.reduce((all, file) => all + file[measure], 0)
        expect([of('requests'), of('transferBytes'), of('decodedBytes')]).toEqual([
          sum.requests,
          sum.transferBytes,
          sum.decodedBytes,
        ])
        expect(new Set(list.map(({ payer, url }) => `${payer} ${url}`)).size).toBe(list.length)
      },
    ),
  ))

describe('what a CycloneDX document calls its components', () => {
  const slugs = (components: unknown) => fromCycloneDx({ bomFormat: 'CycloneDX', components }).map(({ slug }) => slug)
  it.each([
    ['a slug of our own export', [{ name: 'N', 'bom-ref': 'a_b' }], ['a_b']],
    [
      'components in components',
      [{ name: 'A', components: [{ name: 'B', components: [{ name: 'C' }] }] }, { name: 'D' }],
      ['a', 'b', 'c', 'd'],
    ],
    ['names that come out alike', [{ name: 'Foo!' }, { name: 'Foo?' }, { name: 'foo-2' }], ['foo', 'foo-2', 'foo-2-2']],
    ['keys that every object has', [{ name: 'constructor' }, { name: '__proto__' }], ['constructor', 'proto']],
  ])('%s', (_, components, expected) => expect(slugs(components)).toEqual(expected))

  it('tells names without Latin letters apart', () => {
    const [gallery, form, shop] = slugs([{ name: 'Галерея' }, { name: 'Form' }, { name: '商店' }])
    expect(form).toBe('form')
    expect([gallery, shop].every((slug) => /^entry-[0-9a-f]{8}$/.test(slug!))).toBe(true)
    expect(gallery).not.toBe(shop)
  })

  it('refuses what lies too deep', () => {
    let nested: object = { name: 'x' }
    for (let n = 0; n < 30; n++) nested = { name: 'x', components: [nested] }
    expect(() => slugs([nested])).toThrow(/lists in each other/)
  })
})
