import fc from 'fast-check'
import { circleOf, retireOrder } from '../src/retire/retire-order.js'

const needs = (given: Record<string, string[]>) => new Map(Object.entries(given))

it('whoever needs another goes before it, and what has nothing to do with it stays where it was', () => {
  const map = needs({ slider: ['lib'], lib: ['base'], base: [], other: [] })
  expect(retireOrder(['base', 'lib', 'other', 'slider'], map)).toEqual(['other', 'slider', 'lib', 'base'])
  expect(retireOrder(['lib', 'lib'], map)).toEqual(['lib'])
  // Through one that stays.
  expect(retireOrder(['base', 'slider'], map)).toEqual(['slider', 'base'])
})

it('two that need each other go together, and those that need either before them', () => {
  const map = needs({ a: ['b'], b: ['a'], c: ['a'], constructor: ['a'] })
  expect([...circleOf('a', map)]).toEqual(['b'])
  expect([...circleOf('c', map)]).toEqual([])
  expect(retireOrder(['a', 'b', 'c'], map)).toEqual(['c', 'a', 'b'])
  expect([...circleOf('unknown', map)]).toEqual([])
})

it('every one is there once, and none behind what it needs, but for circles', () => {
  const slug = fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f')
  fc.assert(
    fc.property(fc.array(fc.tuple(slug, fc.array(slug, { maxLength: 3 }))), fc.array(slug), (pairs, wanted) => {
      const map = new Map(pairs)
      const order = retireOrder(wanted, map)
      expect([...order].sort()).toEqual([...new Set(wanted)].sort())
      for (const [at, one] of order.entries())
        for (const needed of map.get(one) ?? [])
          if (order.includes(needed) && needed !== one && !circleOf(one, map).has(needed))
            expect(order.indexOf(needed)).toBeGreaterThan(at)
    }),
  )
})
