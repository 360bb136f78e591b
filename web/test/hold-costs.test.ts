import 'reflect-metadata'
import { holdCost, viewsOf } from '../src/rules/hold-costs.js'

const does = (...jobs: string[]) => ({ jobs })

it('visits that are lost are told with how many pages are viewed', () => {
  expect(holdCost('hold', does('advertising', 'visit counting'), 1_200)).toMatch('with 1,200 views in thirty days')
  expect(holdCost('hold', does('Besucher', 'analytics'), null)).toBe('Visits that end before it comes are not counted.')
})

it('a form may be refused, and consent comes first', () => {
  expect(holdCost('order', does('spam protection'), null)).toMatch('may be refused')
  expect(holdCost('hold', does('cookie consent'), null)).toMatch('needs consent')
})

it('nothing is said of what does another job, or is not held', () => {
  expect(holdCost('hold', does('maps', 'country names'), null)).toBeNull()
  expect(holdCost('skip', does('visit counting'), null)).toBeNull()
  expect(holdCost('hold', undefined, null)).toBeNull()
})

it('views are those of the pages that are meant, where any is counted', () => {
  const pages = [
    { path: '/', views: 5 },
    { path: '/a', views: null },
    { path: '/b', views: 7 },
  ]
  expect(viewsOf(pages, new Set(['/', '/a']))).toBe(5)
  expect(viewsOf(pages, new Set(['/a']))).toBeNull()
})
