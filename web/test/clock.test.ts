import { frameAt, momentAfter, momentBefore, momentsOf } from '../src/film/clock.js'

const before = [0, 400, 900]
const after = [0, 300, 900, 1200]

it('both loads are stepped through by every moment at which either shows something new', () => {
  const moments = momentsOf([before, after], 1500)
  expect(moments).toEqual([0, 300, 400, 900, 1200, 1500])
  expect(momentAfter(moments, 300)).toBe(400)
  expect(momentAfter(moments, 1500)).toBe(1500)
  expect(momentBefore(moments, 350)).toBe(300)
  expect(momentBefore(moments, 0)).toBe(0)
})

it('shows what was painted last', () => {
  expect([0, 399, 400, 5000].map((at) => frameAt(before, at))).toEqual([0, 0, 1, 2])
  expect(frameAt([120], 100)).toBe(-1)
})
