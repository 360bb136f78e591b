import 'reflect-metadata'
import type { Comparison, ComparisonSide } from '@unvelt/contract'
import { besides } from '../src/compare/besides.js'
import { isChanged } from '../src/compare/is-changed.js'

const side = (more: Partial<ComparisonSide> = {}): ComparisonSide => ({
  sweepId: 4,
  siteId: 1,
  site: 'Fernhollow Arboretum',
  at: '2026-11-01T00:00:00Z',
  status: 'done',
  lens: 'Desk',
  repeats: 3,
  rulesVersion: 2,
  pages: 66,
  ...more,
})
const comparison = (then: ComparisonSide, now: ComparisonSide, more: Partial<Comparison> = {}) =>
  ({ then, now, onlyThen: [], onlyNow: [], ...more }) as unknown as Comparison

describe('what two sweeps differ in besides', () => {
  it('is nothing where only time has passed', () => {
    expect(besides(comparison(side(), side({ sweepId: 5, at: '2026-11-20T00:00:00Z' })))).toEqual([])
  })

  it('names each, and what is not finished', () => {
    const now = side({ sweepId: 5, lens: 'Phone', repeats: 1, rulesVersion: 0, status: 'running' })
    expect(besides(comparison(side(), now, { onlyThen: ['/a', '/b'] }))).toEqual([
      'lens Desk against Phone',
      'repeats 3 against 1',
      'rules: version 2 against no rules',
      '2 pages only then, left out',
      'sweep 5 is not finished',
    ])
  })
})

it('times alone put nobody on the list of those that differ', () => {
  const figures = (requests: number, serverMs: number) => ({
    requests,
    transferBytes: 0,
    idleBytes: 0,
    queries: 0,
    serverMs,
  })
  const payer = (a: object, b: object, change: string | null = null) =>
    ({ then: a, now: b, change }) as unknown as Parameters<typeof isChanged>[0]
  expect(isChanged(payer(figures(2, 10), figures(2, 500)))).toBe(false)
  expect(isChanged(payer(figures(2, 10), figures(3, 10)))).toBe(true)
  expect(isChanged(payer(figures(2, 10), figures(2, 10), 'updated'))).toBe(true)
})
