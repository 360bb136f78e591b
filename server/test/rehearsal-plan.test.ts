import fc from 'fast-check'
import { judgeGuards, seeded, type GuardLook, type Rule } from '@unvelt/core'
import { AGAIN, draftsKey, lensesFor, pagesToRehearse, turnsOf } from '../src/rehearsal/rehearsal-plan.js'

const rule = (id: string, more: Partial<Rule> = {}): Rule => ({
  id,
  addon: 'slider',
  effect: 'leave-out',
  place: { level: 'everywhere' },
  ...more,
})
const page = (id: number, more: object = {}) => ({
  id,
  path: `/${id}`,
  kind: 'page',
  area: 'public' as const,
  signedIn: false,
  views: 100 - id,
  ...more,
})
const lens = (id: number, device: 'desk' | 'handset', visitor: 'signed-out' | 'signed-in', isCold = true) => ({
  id,
  visit: { device, visitor },
  isCold,
})
const LENSES = [
  lens(1, 'desk', 'signed-out'),
  lens(2, 'handset', 'signed-out'),
  lens(3, 'handset', 'signed-out'),
  lens(4, 'desk', 'signed-out', false),
  lens(5, 'desk', 'signed-in'),
]
const ids = (lenses: { id: number }[]) => lenses.map(({ id }) => id)

describe('the lenses of a page', () => {
  it('are one for each device where rules tell nobody apart', () => {
    expect(ids(lensesFor(page(1), [], [rule('a')], LENSES))).toEqual([1, 2])
  })
  it('are those of the visits that a condition names', () => {
    expect(ids(lensesFor(page(1), [], [rule('a', { condition: { device: 'handset' } })], LENSES))).toEqual([2])
    expect(ids(lensesFor(page(1), [], [rule('a', { condition: { visitor: 'signed-in' } })], LENSES))).toEqual([5])
  })
  it('are of the signed in for what only they see', () => {
    expect(ids(lensesFor(page(1, { signedIn: true }), [], [rule('a')], LENSES))).toEqual([5])
  })
  it('are the first one where nothing changes', () => {
    expect(ids(lensesFor(page(1), [rule('a')], [rule('a')], LENSES))).toEqual([1])
  })
})

describe('the pages of a rehearsal', () => {
  it('are all that are touched where they are few, and one at the edge of each draft', () => {
    const all = Array.from({ length: 8 }, (_, n) => page(n + 1))
    const drafts = [rule('a', { place: { level: 'set', paths: ['/3', '/5'] } })]
    const touched = all.filter(({ id }) => id === 3 || id === 5)
    expect(ids(pagesToRehearse(touched, all, drafts, new Set(), 1))).toEqual([3, 5, 1])
  })
  it('are bounded, hold every kind, and first of all those in use', () => {
    fc.assert(
      fc.property(fc.integer({ min: 11, max: 400 }), fc.integer({ min: 1, max: 5 }), fc.nat(), (count, kinds, seed) => {
        const all = Array.from({ length: count }, (_, n) => page(n + 1, { kind: `kind-${n % kinds}` }))
        const inUse = new Set([1 + (seed % count)])
        const chosen = pagesToRehearse(all, all, [rule('a')], inUse, seed)
        expect(chosen.length).toBeLessThanOrEqual(24)
        expect(new Set(chosen.map(({ kind }) => kind)).size).toBe(kinds)
        expect(ids(chosen)).toEqual(expect.arrayContaining([...inUse]))
        expect(new Set(ids(chosen)).size).toBe(chosen.length)
      }),
    )
  })
})

it('readings come in turn, and those for the times are five a side', () => {
  expect(turnsOf('guards').map(({ side }) => side)).toEqual(['without', 'with', 'without'])
  const timed = turnsOf('times').filter(({ looks }) => !looks)
  expect(timed.map(({ side }) => side)).toEqual(Array.from({ length: 5 }, () => ['without', 'with']).flat())
})

it('what was accepted is known by the drafts that touch the page, in whatever order', () => {
  const here = rule('b', { place: { level: 'page', path: '/1' } })
  const drafts = [here, rule('c', { place: { level: 'page', path: '/2' } }), rule('a')]
  expect(draftsKey(drafts, page(1))).toBe('a b')
  expect(draftsKey(drafts.reverse(), page(1))).toBe('a b')
  expect(draftsKey(drafts, page(9))).toBe('a')
})

it('a page on which things come and go by themselves hardly ever fails, and what the drafts take away always does', () => {
  const random = seeded(20_261_129)
  const CHANCES = [0.1, 0.3, 0.5, 0.6, 0.8]
  /** Links, fields and errors that are there by chance, each with its own. */
  const look = (taken: boolean): GuardLook => {
    const drawn = (of: string) => CHANCES.filter((chance) => random() < chance).map((chance) => `${of} ${chance}`)
    const landmark = { role: 'main', name: '', x: 0, y: 100, width: 900, height: random() < 0.5 ? 2_000 : 700 }
    return {
      status: 200, title: 'Moving', path: '/', errors: drawn('error'), failed: drawn('request'), landmarks: [landmark],
      links: [...drawn('link'), ...(taken ? [] : ['/shop'])], fields: drawn('field'), controls: drawn('control'),
      shift: random() * 0.02, steps: [],
    } // prettier-ignore
  }
  const rehearsed = (taken: boolean): string[] => {
    const without = [look(false), look(false)]
    const withDrafts = [look(taken)]
    const failing = () => judgeGuards(without, withDrafts, null).filter(({ outcome }) => outcome === 'fails')
    for (const side of AGAIN) {
      if (failing().length === 0) break
      if (side === 'with') withDrafts.push(look(taken))
      else without.push(look(false))
    }
    return failing().flatMap(({ gone, came, guard }) => [...gone, ...came].map((entry) => `${guard} ${entry}`))
  }
  const ROUNDS = 1_000
  const cried = Array.from({ length: ROUNDS }, () => rehearsed(false)).filter((found) => found.length > 0).length
  // Twenty-five such things on one page, where a real one has a few.
  expect(cried / ROUNDS).toBeLessThan(0.1)
  for (let n = 0; n < 50; n++) expect(rehearsed(true)).toContain('links /shop')
})
