import 'reflect-metadata'
import fc from 'fast-check'
import type { RuleView } from '@unvelt/contract'
import { asLive, changesBetween, draftsBack, filtered, lines, ruleRows, sorted } from '../src/rules/rule-rows.js'
import { ruleOf, setsToChoose, valuesOf } from '../src/rules/rule-values.js'

const rule = (more: Partial<RuleView>): RuleView => ({
  id: more.id ?? JSON.stringify(more),
  addon: 'menu',
  addonName: 'Menu',
  effect: 'skip',
  place: { level: 'everywhere' },
  ...more,
})
const onShop = rule({ id: 'a', place: { level: 'page', path: '/shop' } })
const held = rule({
  id: 'b',
  addon: 'slider',
  addonName: 'Slider',
  effect: 'hold',
  until: 'seen',
  note: 'for the fair',
})

describe('rules in one table', () => {
  it('each thing stands there once, with the draft in the place of what is live', () => {
    const changed = { ...onShop, id: 'c', effect: 'leave-out' as const }
    const goes = { ...held, id: 'd', removed: true }
    const rows = ruleRows([onShop, held], [changed, goes])
    expect(rows).toEqual([
      { rule: changed, state: 'draft', was: onShop },
      { rule: goes, state: 'goes', was: null },
    ])
    expect(asLive(rows)).toEqual([changed])
  })

  it('is found by every word of what it says, its note among it', () => {
    const rows = ruleRows([onShop, held], [])
    expect(filtered(rows, 'SLIDER fair')).toHaveLength(1)
    expect(filtered(rows, 'slider shop')).toHaveLength(0)
    expect(filtered(rows, ' ')).toHaveLength(2)
  })

  it('is grouped, and sorted either way', () => {
    const rows = ruleRows([onShop, held], [])
    expect(lines(rows, 'add-on').map((line) => ('heading' in line ? line.heading : line.row.rule.id))).toEqual([
      'Menu', 'a', 'Slider', 'b',
    ]) // prettier-ignore
    expect(sorted(rows, 'subject', true).map(({ rule: { id } }) => id)).toEqual(['b', 'a'])
    expect(lines(rows, 'nothing')).toHaveLength(2)
  })

  it('two versions differ by what came, went and changed', () => {
    const changed = { ...held, id: 'c', until: 'idle' as const }
    const fresh = rule({ id: 'n', place: { level: 'kind', kind: 'event' } })
    const signs = changesBetween([onShop, held], [changed, fresh]).map(({ sign, row }) => sign + row.rule.id)
    expect(signs.sort()).toEqual(['+n', '±c', '−a'].sort())
    expect(changesBetween([onShop, held], [held, onShop])).toEqual([])
    // Drafted, they bring back what was live before.
    const back = draftsBack([changed, fresh], [onShop, held])
    expect(back).toHaveLength(3)
    expect(back.filter(({ removed }) => removed).map(({ place }) => place)).toEqual([fresh.place])
    expect(back.find(({ effect, until }) => effect === 'hold' && until === held.until)).toBeDefined()
  })
})

describe('a rule in a form', () => {
  const path = fc.constantFrom('/', '/shop', '/a/b')
  const place = fc.oneof(
    fc.constant({ level: 'everywhere' as const }),
    fc.record({ level: fc.constant('area' as const), area: fc.constantFrom('public' as const, 'office' as const) }),
    fc.record({ level: fc.constant('kind' as const), kind: fc.constantFrom('event', 'product') }),
    fc.record({ level: fc.constant('path' as const), pattern: fc.constantFrom('/events/*', '/a') }),
    fc.record({ level: fc.constant('page' as const), path }),
    fc.constant({ level: 'set' as const, paths: ['/', '/shop'] }),
    fc.constant({ level: 'set' as const, paths: ['/', '/shop'], name: 'the shop' }),
  )
  const what = fc.oneof(
    fc.constant({ effect: 'skip' as const }),
    fc.record({ effect: fc.constant('hold' as const), until: fc.constantFrom('idle' as const, 'asked' as const) }),
    fc.constant({ effect: 'hold' as const, until: 'asked' as const, ask: { words: 'Show the map', picture: '/map.png' } }),
    fc.record({ effect: fc.constant('order' as const), order: fc.constantFrom('defer' as const, 'end' as const) }),
    fc.record({ effect: fc.constant('set' as const), setting: fc.constant('most items'), value: fc.integer({ min: -9, max: 99 }) }),
    fc.constant({ effect: 'leave-out' as const, file: '/a file.js' }),
    fc.constant({ effect: 'keep' as const, feature: 'blocks' }),
  ) // prettier-ignore
  const condition = fc.constantFrom(undefined, { device: 'handset' as const }, { visitor: 'signed-in' as const })
  const more = fc.constantFrom({}, { note: 'why', author: 'Rowan', expires: '2027-01-31' })

  it('comes out as it went in', () => {
    fc.assert(
      fc.property(place, what, condition, more, (where, does, when, rest) => {
        const {
          id: _,
          addonName: __,
          ...input
        } = rule({ place: where, ...does, ...(when && { condition: when }), ...rest })
        const shown = { ...input, id: 'x', addonName: 'Menu' }
        expect(ruleOf(valuesOf(shown, ''), setsToChoose([], shown))).toEqual(input)
      }),
    )
  })

  it('is none while it is not whole', () => {
    expect(ruleOf(valuesOf(null, 'Rowan'))).toBeNull()
    expect(ruleOf({ ...valuesOf(onShop, ''), paths: ' \n' })).toBeNull()
  })
})
