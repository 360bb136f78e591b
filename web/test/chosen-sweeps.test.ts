import 'reflect-metadata'
import type { Sweep } from '@unvelt/contract'
import { chosenSweeps, surveysOf } from '../src/compare/chosen-sweeps.js'

const sweep = (id: number, more: Partial<Sweep> = {}) =>
  ({ id, lensId: 1, purpose: 'survey', readings: 10, readingsFailed: 0, ...more }) as Sweep

it('the newest stands beside the one before it through the same lens', () => {
  const sweeps = [sweep(9), sweep(8, { lensId: 2 }), sweep(7), sweep(6)]
  const none = { sweeps, asked: null }
  expect(chosenSweeps(none, none)).toEqual({ now: 9, then: 7 })
  expect(chosenSweeps({ sweeps, asked: 8 }, none)).toEqual({ now: 8, then: 9 })
  expect(chosenSweeps(none, { sweeps, asked: 6 })).toEqual({ now: 9, then: 6 })
  // Of another site its newest through that lens, else its newest at all.
  expect(chosenSweeps(none, { sweeps: [sweep(20, { lensId: 4 })], asked: null })).toEqual({ now: 9, then: 20 })
  expect(chosenSweeps({ sweeps: [sweep(9)], asked: null }, { sweeps: [sweep(9)], asked: null })).toEqual({
    now: 9,
    then: null,
  })
})

it('only surveys that have read something are to choose from', () => {
  const sweeps = [sweep(3, { purpose: 'proof' }), sweep(2, { readingsFailed: 10 }), sweep(1)]
  expect(surveysOf(sweeps).map(({ id }) => id)).toEqual([1])
})
