import fc from 'fast-check'
import { LOOK_HEIGHT, LOOK_WIDTH, lookOf, looksAlike } from '../src/index.js'

const size = { width: 900, height: 600 }
const greys = fc.array(fc.integer({ min: 0, max: 255 }), {
  minLength: LOOK_WIDTH * LOOK_HEIGHT,
  maxLength: LOOK_WIDTH * LOOK_HEIGHT,
})

it('a picture looks like itself, brighter, paler and in another size', () => {
  const steps = Array.from({ length: LOOK_WIDTH * LOOK_HEIGHT }, (_, n) => ((n * 37) % 101) + 60)
  const look = lookOf(steps, size)
  const pale = lookOf(steps.map((grey) => grey * 0.6 + 70), { width: 300, height: 200 }) // prettier-ignore
  expect(look.hash).toMatch(/^[0-9a-f]{16}$/)
  expect(looksAlike(look, pale)).toBe(true)
  expect(looksAlike(look, { ...look, ratio: 1 })).toBe(false)
})

it('it makes no difference which of two is held against which', () => {
  fc.assert(
    fc.property(greys, greys, (a, b) => {
      const [one, other] = [lookOf(a, size), lookOf(b, size)]
      expect(looksAlike(one, other)).toBe(looksAlike(other, one))
    }),
  )
})

it('pictures that have nothing to do with each other hardly ever look alike', () => {
  let alike = 0
  fc.assert(
    fc.property(greys, greys, (a, b) => {
      if (looksAlike(lookOf(a, size), lookOf(b, size))) alike++
    }),
    { numRuns: 2_000 },
  )
  expect(alike).toBeLessThan(5)
})

it('where there is nothing to see nothing looks like anything', () => {
  const plain = lookOf(new Array<number>(LOOK_WIDTH * LOOK_HEIGHT).fill(120), size)
  expect(looksAlike(plain, plain)).toBe(false)
})
