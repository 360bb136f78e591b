import 'reflect-metadata'
import type { Page, RuleView } from '@unvelt/contract'
import { copied, ownRulesOf } from '../src/rules/copy-rules.js'

const page = (path: string, kind = 'event'): Page => ({
  id: path.length,
  path,
  title: path,
  kind,
  area: 'public',
  signedIn: false,
  modified: null,
  views: null,
})
const rule = (over: Partial<RuleView>): RuleView => ({
  id: 'x',
  addon: 'slider',
  addonName: 'Slider',
  effect: 'skip',
  place: { level: 'page', path: '/a' },
  ...over,
})
const A = page('/a')
const RULES = [
  rule({ id: '1', note: 'No slides here.', made: '2026-01-01' }),
  rule({ id: '2', addon: 'chat', effect: 'hold', until: 'seen', place: { level: 'set', paths: ['/a', '/b'] } }),
  rule({ id: '3', addon: 'fonts', place: { level: 'kind', kind: 'event' } }),
  rule({ id: '4', addon: 'map', place: { level: 'page', path: '/other' } }),
]

it('what was made for a page is what holds on it alone or among a few', () =>
  expect(ownRulesOf(RULES, A).map(({ id }) => id)).toEqual(['1', '2']))

it('is said of another page, with its note, but for what is said there already', () => {
  const { rules, there } = copied(RULES, A, { page: page('/b') })
  // The second holds on /b by its own set.
  expect(there).toBe(1)
  expect(rules).toEqual([
    { addon: 'slider', effect: 'skip', place: { level: 'page', path: '/b' }, note: 'No slides here.' },
  ])
  expect(copied(RULES, A, { page: page('/c') }).rules).toHaveLength(2)
})

it('is said of a whole kind; another effect there is no hindrance', () => {
  const live = [...RULES, rule({ id: '5', effect: 'leave-out', place: { level: 'kind', kind: 'event' } })]
  const { rules, there } = copied(live, A, { kind: 'event' })
  expect(there).toBe(0)
  expect(rules.map(({ place }) => place)).toEqual([
    { level: 'kind', kind: 'event' },
    { level: 'kind', kind: 'event' },
  ])
  expect(
    copied([...live, rule({ id: '6', place: { level: 'kind', kind: 'event' } })], A, { kind: 'event' }).there,
  ).toBe(1)
})
