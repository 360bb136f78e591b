import fc from 'fast-check'
import { parseServerTiming } from '../src/index.js'
import { peakServerMemory } from '../src/server-cost/server-tolls.js'

it('reads names, durations and descriptions', () => {
  expect(parseServerTiming('total;dur=41.5, addon.x;desc="a, \\"b\\"; c";dur=3, hit')).toEqual([
    { name: 'total', duration: 41.5, description: '' },
    { name: 'addon.x', duration: 3, description: 'a, "b"; c' },
    { name: 'hit', duration: null, description: '' },
  ])
})

it('passes over what is malformed and never claims less than no time', () => {
  expect(parseServerTiming('b@d;dur=1, ok;dur=-4, nan;dur=x')).toEqual([
    { name: 'ok', duration: 0, description: '' },
    { name: 'nan', duration: 0, description: '' },
  ])
})

it.each([
  ['m;dur=0x10', 0, ''],
  ['m;dur=foo;dur=12', 0, ''],
  ['m;dur=4ms', 4, ''],
  ['m; dur = 1.5e1 ', 15, ''],
  ['m;desc=a"b', null, 'a"b'],
  ['m;desc="a\\"b" c;dur=2', 2, 'a"b'],
  ['m;desc="never closed;dur=2', null, 'never closed;dur=2'],
])('%s', (header, duration, description) =>
  expect(parseServerTiming(header)).toEqual([{ name: 'm', duration, description }]),
)

it('takes back what was written, whatever stands in it', () => {
  const quoted = fc.string({ unit: 'binary-ascii' }).map((text) => [...text].filter((letter) => letter >= ' ').join(''))
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.stringMatching(/^[a-z.-]{1,8}$/), fc.nat(), quoted), { minLength: 1 }),
      (metrics) => {
        const header = metrics
          .map(([name, dur, desc]) => `${name};dur=${dur};desc="${desc.replace(/["\\]/g, '\\$&')}"`)
          .join(', ')
        const expected = metrics.map(([name, duration, description]) => ({ name, duration, description }))
        expect(parseServerTiming(header)).toEqual(expected)
      },
    ),
  )
})

it('survives any text', () => {
  fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => Array.isArray(parseServerTiming(text))))
})

it('memory is what the server says, and only a whole number of bytes', () => {
  const said = (header: string) => peakServerMemory(parseServerTiming(header))
  expect(said('total;dur=4, memory;desc="48318464"')).toBe(48_318_464)
  expect([said('total;dur=4'), said('memory;dur=48'), said('memory;desc="4e7"'), said('memory;desc="-1"')]).toEqual([
    null,
    null,
    null,
    null,
  ])
})
