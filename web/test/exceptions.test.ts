import 'reflect-metadata'
import fc from 'fast-check'
import { resolve, type RuleInput, type RuleView } from '@unvelt/contract'
import { withSetNames } from '../src/page-sets/named-place.js'
import {
  canHaveExceptions,
  changedExceptions,
  exceptionLines,
  exceptionRules,
  exceptionsOf,
} from '../src/rules/exceptions.js'
import { exceptProblem, linesIn, pathProblem } from '../src/rules/paths.js'

const slider: RuleInput = { addon: 'slider', effect: 'leave-out', place: { level: 'area', area: 'public' } }
const shown = (rules: RuleInput[]): RuleView[] =>
  rules.map((rule, n) => ({ ...rule, id: `r${n}`, addonName: 'Slider' }))

describe('exceptions from a broad rule', () => {
  it('keep just what it takes away, where the lines say, and come back as the same lines', () => {
    const line = fc.constantFrom('/', '/shop', '/about', '/events/*', '/a/:b')
    const broad = fc.constantFrom<RuleInput>(
      slider,
      { ...slider, place: { level: 'everywhere' }, feature: 'dots' },
      { ...slider, place: { level: 'kind', kind: 'page' }, condition: { device: 'handset' } },
    )
    fc.assert(
      fc.property(broad, fc.uniqueArray(line), (rule, lines) => {
        const kept = exceptionRules(rule, lines)
        const rules = shown([rule, ...kept, { addon: 'other', effect: 'keep', place: { level: 'page', path: '/x' } }])
        const found = exceptionsOf(rule, rules)
        expect(new Set(exceptionLines(found))).toEqual(new Set(lines))
        const visit = { device: 'handset', visitor: 'signed-out' } as const
        const known = ['/', '/shop', '/about', '/events/one', '/a/b', '/else']
        for (const path of known) {
          const [effect] = resolve(rules, { path, kind: 'page', area: 'public' }, visit)
          const isExcepted = lines.some((text) => text === path || (text === '/events/*' && path === '/events/one') || (text === '/a/:b' && path === '/a/b')) // prettier-ignore
          expect(effect?.effect).toBe(isExcepted ? 'keep' : 'leave-out')
        }
      }),
    )
  })

  it('are none of a rule on listed pages, or of one that keeps', () => {
    expect(canHaveExceptions({ ...slider, place: { level: 'set', paths: ['/'] } })).toBe(false)
    expect(canHaveExceptions({ ...slider, effect: 'keep' })).toBe(false)
    expect(exceptionsOf({ ...slider, place: { level: 'page', path: '/' } }, shown([slider]))).toEqual([])
  })

  it('change by what is new and what is gone: a draft is withdrawn, what is live is drafted to go', () => {
    const before = shown(exceptionRules(slider, ['/', '/events/*']))
    const same = changedExceptions(before, exceptionRules(slider, ['/events/*', '/']), new Set())
    expect(same).toEqual({ rules: [], withdrawn: [] })
    const other = changedExceptions(before, exceptionRules(slider, ['/shop']), new Set(['r0']))
    expect(other.withdrawn).toEqual(['r0'])
    expect(other.rules).toEqual([
      { ...exceptionRules(slider, ['/events/*'])[0], removed: true },
      ...exceptionRules(slider, ['/shop']),
    ])
  })
})

it('lines are paths of known pages; only exceptions may be patterns', () => {
  const known = new Set(['/', '/shop'])
  expect(linesIn(' /shop \n\n/\n/shop')).toEqual(['/shop', '/'])
  expect(pathProblem('/shop\n/', known)).toBe(true)
  expect(pathProblem(' \n', known)).toBe('Name a page at least.')
  expect(pathProblem('/\nshop', known)).toMatch(/^Line 2: /)
  expect(pathProblem('/events/*', known)).toMatch(/no page that is known/)
  expect(exceptProblem('', known)).toBe(true)
  expect(exceptProblem('/events/*\n/shop', known)).toBe(true)
  expect(exceptProblem('/nowhere', known)).toMatch(/no page that is known/)
})

it('rules on just the pages of a set say its name, and no others', () => {
  const set = { id: 1, name: 'shop', note: '', paths: ['/a', '/b'], gone: [], liveRules: 0, drafts: 0, changedAt: '' }
  const on = (...paths: string[]): RuleInput => ({ ...slider, place: { level: 'set', paths } })
  const places = withSetNames([on('/b', '/a'), on('/a'), on('/a', '/b', '/c'), slider], [set]).map(({ place }) => place)
  expect(places).toEqual([
    { level: 'set', paths: ['/b', '/a'], name: 'shop' },
    { level: 'set', paths: ['/a'] },
    { level: 'set', paths: ['/a', '/b', '/c'] },
    slider.place,
  ])
})
