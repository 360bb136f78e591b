import fc from 'fast-check'
import { PLAIN_VISIT, resolve, rulesOnCopy, type Rule, type RulePage } from '../src/index.js'

const page: RulePage = { path: '/events/seed-swap', kind: 'event', area: 'public' }
const PLACES: Rule['place'][] = [
  { level: 'everywhere' },
  { level: 'area', area: 'public' },
  { level: 'area', area: 'office' },
  { level: 'kind', kind: 'event' },
  { level: 'path', pattern: '/events/*' },
  { level: 'path', pattern: '/:any' },
  { level: 'path', pattern: '/scratch/*' },
  { level: 'set', paths: [page.path, '/'] },
  { level: 'set', paths: ['/'] },
  { level: 'page', path: page.path },
  { level: 'page', path: '/elsewhere' },
]

it('on a copy the same rules decide the same as on the page, whatever the copy is called', () => {
  const rules = fc.array(
    fc.record({
      id: fc.uuid(),
      addon: fc.constantFrom('form', 'slider'),
      effect: fc.constantFrom('skip', 'keep', 'hold'),
      place: fc.constantFrom(...PLACES),
    }),
    { maxLength: 12 },
  ) as fc.Arbitrary<Rule[]>
  const paths = fc.constantFrom('/scratch/0b1c', '/scratch/a(b)', '/try/*:x', '/kept{1}', '/what+is')
  fc.assert(
    fc.property(rules, paths, (all, path) => {
      const onCopy = resolve(rulesOnCopy(all, page, path), { ...page, path }, PLAIN_VISIT)
      expect(onCopy).toEqual(resolve(all, page, PLAIN_VISIT))
    }),
  )
})
