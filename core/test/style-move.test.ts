import { styleMove } from '../src/index.js'

it('styles that are used nowhere are one move, of those that matter', () => {
  const file = (spared: number, pages: number, rules = 3) => ({
    ...{ less: spared / 1_000, spared, rules },
    pageIds: Array.from({ length: pages }, (_, n) => n),
  })
  const move = styleMove([file(3e7, 2), file(2e7, 5, 4), file(10, 9)], 1_000)!
  expect(move).toMatchObject({
    type: 'nowhere',
    rules: [],
    spared: { pages: 5, transferBytes: 30_000 * 2 + 20_000 * 5 },
  })
  expect(move.reason).toMatch(/^7 rules in 2 stylesheets of the site’s own that no page and no step has used/)
  expect(move.waitingMs).toBeGreaterThan(0)
  expect(styleMove([file(10, 9)], 1_000)).toBeNull()
  expect(styleMove([], 0)).toBeNull()
})
