import fc from 'fast-check'
import type { Rule } from '@unvelt/core'
import {
  firstConflict,
  judge,
  MOST_CHECKED,
  pagesToCheck,
  sameRules,
  sending,
  touchedPages,
  type CheckedPage,
} from '../src/rule/deployment/deployment-plan.js'

const rule = (id: string, more: Partial<Rule> = {}): Rule => ({
  id,
  addon: 'a',
  effect: 'skip',
  place: { level: 'everywhere' },
  ...more,
})
const page = (id: number, more: object = {}) => ({
  id,
  path: `/p${id}`,
  kind: `k${id % 4}`,
  area: 'public' as const,
  views: id,
  ...more,
})

describe('what a change touches', () => {
  const pages = [page(1), page(2, { area: 'office' })]
  it('is seen for every sort of visit, not only for the plain one', () => {
    const members = rule('r', { condition: { visitor: 'signed-in', device: 'handset' } })
    expect(touchedPages(pages, [], [members])).toHaveLength(2)
    expect(touchedPages(pages, [members], [members])).toEqual([])
  })
  it('is nothing where a rule is only written otherwise', () => {
    const [one, other] = [rule('r', { effect: 'hold' }), rule('s', { effect: 'hold', until: 'idle' })]
    expect(touchedPages(pages, [one], [other])).toEqual([])
  })
  it('is every page where only the words in the place of what is held are others', () => {
    const asked = (words: string) => rule('r', { effect: 'hold', until: 'asked', ask: { words } })
    expect(touchedPages(pages, [asked('Show it')], [asked('Show the map')])).toHaveLength(2)
    expect(touchedPages(pages, [asked('Show it')], [asked('Show it')])).toEqual([])
  })
  it('and two rules that fight for one sort of visit are found', () => {
    const phone = { condition: { device: 'handset' as const } }
    const conflict = firstConflict([rule('r', phone), rule('s', { ...phone, effect: 'hold' })], pages)
    expect(conflict).toMatchObject({ path: '/p1', addon: 'a' })
    expect(firstConflict([rule('r', phone), rule('s', { effect: 'hold' })], pages)).toBeNull()
  })
})

describe('the pages that are asked for', () => {
  it('are all of few, and of many a bounded draw of every kind with those in use', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 2_500 }), fc.nat(), fc.uniqueArray(fc.nat(2_499)), (n, seed, used) => {
        const touched = Array.from({ length: n }, (_, id) => page(id))
        const chosen = pagesToCheck(touched, new Set(used), seed)
        if (n <= MOST_CHECKED) return expect(chosen).toEqual(touched)
        expect(chosen.length).toBeLessThanOrEqual(MOST_CHECKED + 100)
        expect(new Set(chosen.map(({ kind }) => kind)).size).toBe(4)
        const ids = new Set(chosen.map(({ id }) => id))
        for (const id of used
          .filter((each) => each < n)
          .slice(0, 100)
          .sort((a, b) => a - b)
          .slice(0, 1))
          expect(ids).toContain(id)
        expect(pagesToCheck(touched, new Set(used), seed)).toEqual(chosen)
      }),
      { numRuns: 60 },
    )
  })
})

describe('whether to send once more', () => {
  const wanted = [rule('r', { place: { level: 'page', path: '/x' }, note: 'n' })]
  it('sends where nothing has changed, goes on where it was taken, and stops otherwise', () => {
    expect(sending(3, wanted, { version: 3, rules: [] })).toEqual({ do: 'put' })
    expect(sending(3, wanted, { version: 4, rules: structuredClone(wanted) })).toEqual({ do: 'go on', version: 4 })
    expect(sending(3, wanted, { version: 4, rules: [] })).toEqual({ do: 'stop' })
    expect(sending(3, wanted, { version: 5, rules: wanted })).toEqual({ do: 'stop' })
  })
  it('takes rules for the same in whatever order they and their members come', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray(['id', 'addon', 'effect', 'place', 'note'], { minLength: 5 }), (order) => {
        const turned = order.map((key) => [key, wanted[0]![key as keyof Rule]])
        const other = rule('s')
        expect(sameRules([other, Object.fromEntries(turned) as unknown as Rule], [wanted[0]!, other])).toBe(true)
      }),
    )
    expect(sameRules(wanted, [])).toBe(false)
    expect(sameRules(wanted, [{ ...wanted[0]!, effect: 'hold' }])).toBe(false)
  })
})

describe('what the answers come to', () => {
  const outcome = fc.constantFrom<CheckedPage['outcome']>('new', 'old', 'broken', 'unseen')
  it('stands unless a page is old or broken, and never says more than was seen', () => {
    fc.assert(
      fc.property(fc.array(outcome, { maxLength: 40 }), fc.nat(30), (outcomes, more) => {
        const checked = outcomes.map((each, n) => ({ path: `/p${n}`, outcome: each }))
        const { stands, said } = judge(checked, { version: 7, touched: outcomes.length + more })
        expect(stands).toBe(!outcomes.includes('old') && !outcomes.includes('broken'))
        if (outcomes.includes('unseen') && stands) expect(said.join(' ')).toContain('Not checked')
        if (!outcomes.includes('new') && stands && more === 0) expect(said.join(' ')).not.toMatch(/Visitors get/)
      }),
    )
  })
  it('says so in a sentence', () => {
    expect(judge([{ path: '/a', outcome: 'new' }], { version: 2, touched: 1 }).said).toEqual([
      'Visitors get version 2 on the page it touches.',
    ])
    expect(judge([{ path: '/a', outcome: 'old' }], { version: 2, touched: 1 }).said).toEqual([
      'Visitors still get old copies of /a.',
    ])
  })
})
