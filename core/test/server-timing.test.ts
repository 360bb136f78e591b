import fc from 'fast-check'
import { parseServerTiming } from '../src/index.js'

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
    { name: 'nan', duration: null, description: '' },
  ])
})

it('survives any text', () => {
  fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => Array.isArray(parseServerTiming(text))))
})
