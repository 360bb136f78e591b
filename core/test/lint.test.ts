import fc from 'fast-check'
import { lint, LINT_KINDS, resolve, type LintKnown, type Rule, type RulePage } from '../src/index.js'

const page = (path: string, area: RulePage['area'] = 'public', kind = 'article'): RulePage => ({ path, area, kind })
const PAGES = [page('/a'), page('/b'), page('/c', 'public', 'listing'), page('/office', 'office', 'office')]
const rule = (id: string, part: Partial<Rule> = {}): Rule => ({
  id,
  addon: 'form',
  effect: 'skip',
  place: { level: 'area', area: 'public' },
  ...part,
})
const found = (rules: Rule[], known: Partial<LintKnown> = {}) => lint(rules, { pages: PAGES, ...known })
const at = (path: string) => ({ level: 'page' as const, path })

it.each<[string, Rule[], Partial<LintKnown>, object]>([
  [
    'two that say different things at one place',
    [rule('r1'), rule('r2', { effect: 'hold' })],
    {},
    { kind: 'conflict', rules: ['r1', 'r2'], pageCount: 3, wayOut: { do: 'choose', rules: ['r1', 'r2'] } },
  ],
  [
    'one that others hide wherever it holds',
    [rule('r1', { place: { level: 'kind', kind: 'listing' } }), rule('r2', { place: at('/c'), effect: 'keep' })],
    {},
    { kind: 'hidden', rules: ['r1', 'r2'], pages: ['/c'], wayOut: { do: 'remove', rules: ['r1'] } },
  ],
  [
    'one for a page that there is not',
    [rule('r1', { place: at('/gone') })],
    {},
    { kind: 'nowhere', rules: ['r1'], about: 'no page', wayOut: { do: 'remove' } },
  ],
  [
    'one for a file that the add-on has not',
    [rule('r1', { file: '/x.js' })],
    { files: { form: ['/y.js'] } },
    { kind: 'nowhere', rules: ['r1'], about: 'no file /x.js' },
  ],
  [
    'one that unloads what something kept needs',
    [rule('r1', { addon: 'lib' })],
    { needs: { form: ['lib'] } },
    {
      kind: 'needed',
      rules: ['r1'],
      about: 'form needs lib',
      pageCount: 3,
      wayOut: { do: 'unload-too', addons: ['form'] },
    },
  ],
  [
    'one that unloads the only file of what something kept needs',
    [rule('r1', { addon: 'lib', file: '/lib.js' })],
    { needs: { form: ['lib'] }, files: { lib: ['/lib.js'] } },
    { kind: 'needed', rules: ['r1'], about: 'form needs lib', pageCount: 3 },
  ],
  [
    'one that catches the back office as well',
    [rule('r1', { place: { level: 'everywhere' } })],
    {},
    { kind: 'unmeant', rules: ['r1'], pages: ['/office'], wayOut: { do: 'confine', to: 'public' } },
  ],
  [
    'one older than the add-on’s version',
    [rule('r1')],
    { versions: { form: '2.0' }, writtenFor: { r1: '1.4' } },
    { kind: 'outdated', rules: ['r1'], about: 'written for 1.4, now 2.0', wayOut: { do: 'confirm', version: '2.0' } },
  ],
  [
    'one on a page where the add-on was seen in use',
    [rule('r1')],
    { inUse: new Map([['/b', new Set(['form'])]]) },
    { kind: 'in-use', rules: ['r1'], pages: ['/b'], wayOut: { do: 'keep', addon: 'form', pages: ['/b'] } },
  ],
  [
    'one that is live while the add-on still arrives',
    [rule('r1')],
    { arrives: new Map([['/a', new Set(['form'])]]) },
    { kind: 'still-arrives', rules: ['r1'], pages: ['/a'], wayOut: { do: 'check', addon: 'form' } },
  ],
])('finds %s', (_, rules, known, expected) => expect(found(rules, known)).toMatchObject([expected]))

it.each<[string, Rule[], Partial<LintKnown>]>([
  [
    'rules that say the same',
    [rule('r1'), rule('r2', { place: { level: 'kind', kind: 'listing' }, addon: 'slider' })],
    {},
  ],
  ['an exception', [rule('r1'), rule('r2', { place: at('/a'), effect: 'keep' })], {}],
  ['a library that goes with who needs it', [rule('r1', { addon: 'lib' }), rule('r2')], { needs: { form: ['lib'] } }],
  [
    'one of several files of what something kept needs',
    [rule('r1', { addon: 'lib', file: '/lib.js' })],
    { needs: { form: ['lib'] }, files: { lib: ['/lib.js', '/core.js'] } },
  ],
  [
    'a rule for visitors only',
    [rule('r1', { place: { level: 'everywhere' }, condition: { visitor: 'signed-out' } })],
    {},
  ],
  [
    'slugs that every object has a key of',
    [rule('constructor', { addon: '__proto__' })],
    { needs: {}, versions: {}, writtenFor: {}, files: {} },
  ],
])('has nothing to say of %s', (_, rules, known) => expect(found(rules, known)).toEqual([]))

const anyRule = fc.record({
  addon: fc.constantFrom('form', 'slider'),
  effect: fc.constantFrom('skip', 'hold', 'keep') as fc.Arbitrary<Rule['effect']>,
  place: fc.constantFrom<Rule['place']>(at('/a'), { level: 'set', paths: ['/a', '/b'] }, { level: 'path', pattern: '/:x' }, { level: 'kind', kind: 'article' }, { level: 'area', area: 'public' }, { level: 'everywhere' }),
  condition: fc.constantFrom<Rule['condition'][]>(undefined, undefined, { device: 'handset' }, { visitor: 'signed-in' }),
}) // prettier-ignore

it('conflicts and hidden rules are those that deciding page by page shows', () => {
  fc.assert(
    fc.property(fc.array(anyRule, { maxLength: 7 }), (drawn) => {
      const rules = drawn.map(({ condition, ...rest }, n): Rule => ({
        id: `r${n}`,
        ...rest,
        ...(condition && { condition }),
      }))
      const visits = (['desk', 'handset'] as const).flatMap((device) =>
        (['signed-in', 'signed-out'] as const).map((visitor) => ({ device, visitor })),
      )
      const effects = PAGES.flatMap((one) => visits.flatMap((visit) => resolve(rules, one, visit)))
      const said = new Set(effects.flatMap(({ rules: ids, conflictsWith }) => [...ids, ...conflictsWith]))
      const findings = found(rules)
      const of = (kind: string) => findings.filter((finding) => finding.kind === kind)
      expect(of('conflict').length > 0).toBe(effects.some(({ conflictsWith }) => conflictsWith.length > 0))
      const hidden = rules.filter(({ id }) => !said.has(id)).map(({ id }) => id)
      expect(
        [...of('hidden').map(({ rules: [id] }) => id!), ...of('nowhere').map(({ rules: [id] }) => id!)].sort(),
      ).toEqual(hidden.sort())
      for (const { kind, pages, pageCount } of findings) {
        expect(LINT_KINDS).toContain(kind)
        expect(pageCount).toBe(new Set(pages).size)
      }
    }),
    { numRuns: 400 },
  )
})
