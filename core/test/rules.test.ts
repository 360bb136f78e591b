import fc from 'fast-check'
import {
  EFFECTS,
  fittingParticulars,
  parseRuleFile,
  PLAIN_VISIT,
  resolve,
  RuleIndex,
  rulesByScan,
  RULES_FORMAT,
  slowPattern,
  specificity,
  withoutParticulars,
  type Rule,
  type RulePage,
} from '../src/index.js'

const page: RulePage = { path: '/events/seed-swap', kind: 'event', area: 'public' }
const rule = (id: string, part: Partial<Rule> = {}): Rule => ({
  id,
  addon: 'form',
  effect: 'skip',
  place: { level: 'everywhere' },
  ...part,
})
const effect = (rules: Rule[]) => resolve(rules, page, PLAIN_VISIT)[0]

const anyRule: fc.Arbitrary<Rule> = fc.record(
  {
    id: fc.uuid(),
    addon: fc.constantFrom('form', 'slider'),
    effect: fc.constantFrom(...EFFECTS.filter((effect) => effect !== 'set')),
    place: fc.constantFrom<Rule['place']>(
      { level: 'everywhere' },
      { level: 'area', area: 'public' },
      { level: 'kind', kind: 'event' },
      { level: 'path', pattern: '/events/*' },
      { level: 'set', paths: ['/events/seed-swap', '/'] },
      { level: 'page', path: '/events/seed-swap' },
      { level: 'page', path: '/elsewhere' },
    ),
    condition: fc.constantFrom(
      { device: 'desk' as const },
      { visitor: 'signed-in' as const },
      { device: 'desk' as const, visitor: 'signed-out' as const },
    ),
  },
  { requiredKeys: ['id', 'addon', 'effect', 'place'] },
)

describe('resolve', () => {
  it('sets a setting where the narrowest rule says so, beside what is said of the whole add-on', () => {
    const most = { effect: 'set', setting: 'most' } as const
    const place: Rule['place'] = { level: 'page', path: '/events/seed-swap' }
    const rules = [rule('a'), rule('b', { ...most, value: 5 }), rule('c', { ...most, value: 2, place })]
    expect(resolve(rules, page, PLAIN_VISIT)).toMatchObject([
      { effect: 'skip', rules: ['a'] },
      { effect: 'set', setting: 'most', value: 2, rules: ['c'] },
    ])
    const spared = resolve([...rules, rule('d', { effect: 'keep', setting: 'most', place })], page, PLAIN_VISIT)
    expect(spared[1]).toMatchObject({ effect: 'keep', conflictsWith: [] })
    const torn = resolve([rule('e', { ...most, value: 1 }), rule('f', { ...most, value: 2 })], page, PLAIN_VISIT)
    expect(torn[0]).toMatchObject({ conflictsWith: ['f'] })
  })

  it('lets the more specific place win, in the order of the levels', () => {
    const levels: Rule['place'][] = [
      { level: 'everywhere' },
      { level: 'area', area: 'public' },
      { level: 'kind', kind: 'event' },
      { level: 'path', pattern: '/events/*' },
      { level: 'set', paths: ['/events/seed-swap'] },
      { level: 'page', path: '/events/seed-swap' },
    ]
    levels.slice(1).forEach((place, i) => {
      const rules = [rule('narrow', { place, effect: 'leave-out' }), rule('wide', { place: levels[i]! })]
      expect(effect(rules)).toMatchObject({ effect: 'leave-out', rules: ['narrow'], conflictsWith: [] })
    })
  })

  it('lets a condition break a tie, and an exception win an exact one', () => {
    expect(effect([rule('a'), rule('b', { condition: { device: 'desk' }, effect: 'hold' })])?.effect).toBe('hold')
    expect(effect([rule('a'), rule('b', { effect: 'keep' })])).toMatchObject({ effect: 'keep', conflictsWith: [] })
  })

  it('names the conflict of two effects at an exact tie', () => {
    expect(effect([rule('b', { effect: 'leave-out' }), rule('a')])).toMatchObject({
      rules: ['a'],
      conflictsWith: ['b'],
    })
  })

  it('does not depend on the order of the rules, and never lets a wider rule win', () => {
    fc.assert(
      fc.property(fc.uniqueArray(anyRule, { selector: (r) => r.id, maxLength: 12 }), (rules) => {
        const sorted = (list: Rule[]) => resolve(list, page, PLAIN_VISIT).sort((a, b) => (a.addon < b.addon ? -1 : 1))
        expect(sorted([...rules].reverse())).toEqual(sorted(rules))
        for (const { addon, rules: ids } of sorted(rules)) {
          const winner = rules.find((r) => r.id === ids[0])!
          const applying = rules.filter((r) => r.addon === addon && resolve([r], page, PLAIN_VISIT).length > 0)
          expect(Math.max(...applying.map(specificity))).toBe(specificity(winner))
        }
      }),
    )
  })
})

describe('deciding of a part', () => {
  const onPage: Rule['place'] = { level: 'page', path: page.path }
  const file = '/add-ons/form/form.css'
  const effects = (rules: Rule[]) => resolve(rules, page, PLAIN_VISIT).map(({ effect, file: of }) => [of ?? '', effect])

  it('keeps the files of an add-on that is kept at a more specific place', () => {
    expect(effects([rule('a', { effect: 'keep', place: onPage }), rule('b', { effect: 'leave-out', file })])).toEqual([
      ['', 'keep'],
    ])
  })
  it('lets the narrower target win where place and condition are the same, and the more specific place before that', () => {
    expect(effects([rule('a', { effect: 'keep' }), rule('b', { effect: 'leave-out', file })])).toEqual([
      ['', 'keep'],
      [file, 'leave-out'],
    ])
    expect(effects([rule('a'), rule('b', { effect: 'keep', file, place: onPage })])).toEqual([
      ['', 'skip'],
      [file, 'keep'],
    ])
    const desk = { condition: { device: 'desk' as const } }
    expect(effects([rule('a', desk), rule('b', { effect: 'keep', file })])).toEqual([['', 'skip']])
  })
})

describe('the index by place', () => {
  it('finds what looking at every rule finds', () => {
    const pages: RulePage[] = [page, { path: '/elsewhere', kind: 'page', area: 'office' }, { ...page, path: '/' }]
    fc.assert(
      fc.property(fc.array(anyRule, { maxLength: 30 }), fc.constantFrom(...pages), (rules, on) => {
        const ids = (list: Rule[]) => list.map(({ id }) => id).sort()
        for (const visitor of ['signed-in', 'signed-out'] as const) {
          const visit = { device: 'desk' as const, visitor }
          expect(ids(new RuleIndex(rules).rulesFor(on, visit))).toEqual(ids(rulesByScan(rules, on, visit)))
        }
      }),
    )
  })
})

describe('a pattern that may be slow', () => {
  it.each([
    '/((?:a+)+)b',
    '/(a|a+)+',
    '/(a*a*a*)b',
    '/((a|b)*)c',
    `/${'*'.repeat(20)}`,
    `/${'x'.repeat(500)}`,
    '/(a+b\\1)',
    '/(a+)+',
    '/{a*}+',
    '/*a*a*',
    '/:a:b:c',
    '/(a+):x*/',
    '/a:x+',
    '/a**(a|b)',
    '/a*+b',
  ])('%s is refused', (pattern) => {
    const parsed = parseRuleFile({ format: RULES_FORMAT, rules: [rule('a', { place: { level: 'path', pattern } })] })
    expect(parsed).toMatchObject({ problems: [{ at: '/rules/0/place/pattern' }] })
  })
  it.each([
    '/events/*',
    '/:kind/:slug',
    '/(\\d+)/x',
    '/news/:year(20\\d\\d)?',
    '/a{/b}?',
    '/(de|en)/*',
    '/([a-z]+)',
    '/a/:rest*',
  ])('%s is not', (pattern) => expect(slowPattern(pattern)).toBeNull())
  it('what is let through is quick on any path', () => {
    const piece = fc.constantFrom('(a+)', '(a*)', '*', ':x', '(a|b)', '([ab]+)', 'a', '/', 'b', '(ab+)', '{a}?')
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 8 }), fc.integer({ min: 10, max: 60 }), (pieces, length) => {
        const pattern = `/${pieces.join('')}`
        if (slowPattern(pattern)) return
        const began = process.cpuUsage()
        resolve(
          [rule('a', { place: { level: 'path', pattern } })],
          { ...page, path: `/${'a'.repeat(length)}!` },
          PLAIN_VISIT,
        )
        // Generous: what doubles with each letter takes hours at sixty.
        expect(process.cpuUsage(began).user).toBeLessThan(2_000_000)
      }),
      { numRuns: 300 },
    )
  })
})

describe('parseRuleFile', () => {
  it('refuses what is misspelt, with its place', () => {
    const bad = {
      ...rule('a', { effect: 'hold' }),
      untill: 'asked',
      conditions: {},
      condition: { devise: 'desk' },
      place: { level: 'page', path: '/', kind: 'x' },
    }
    const parsed = parseRuleFile({ format: RULES_FORMAT, rules: [bad], more: 1 })
    expect('problems' in parsed && parsed.problems.map(({ at }) => at)).toEqual([
      '/more',
      '/rules/0/untill',
      '/rules/0/conditions',
      '/rules/0/place/kind',
      '/rules/0/condition/devise',
    ])
  })

  it('takes the particulars of an effect, with that effect alone', () => {
    const font = { family: 'Own', local: ['Arial'], size: 100, ascent: 90, descent: 20, lineGap: 0 }
    const good = [
      rule('a', { effect: 'local', copy: { refreshDays: 7, licence: 'MIT' } }),
      rule('b', { effect: 'system-font', fonts: [font, { ...font, weight: '200 900', style: 'italic' }] }),
      rule('c', { effect: 'hint', hosts: [{ origin: 'https://a.test', cors: true }, { origin: 'http://b.test:81', nameOnly: true }] }),
    ] // prettier-ignore
    expect(parseRuleFile({ format: RULES_FORMAT, rules: good })).toEqual({
      file: { format: RULES_FORMAT, rules: good },
    })
    const bad = [
      rule('a', { effect: 'hold', copy: { refreshDays: 7 } }),
      rule('b', { effect: 'local', copy: { refreshDays: 0 } }),
      rule('c', { effect: 'local', copy: {} }),
      rule('d', { effect: 'system-font', fonts: [] }),
      rule('e', { effect: 'system-font', fonts: [{ ...font, family: 'a"}', weight: 'fat', size: 2 }] }),
      rule('f', { effect: 'hint', hosts: [{ origin: 'https://a.test/path' }] }),
      rule('g', { effect: 'leave-out', hosts: [{ origin: 'https://a.test' }] }),
    ]
    const parsed = parseRuleFile({ format: RULES_FORMAT, rules: bad })
    expect('problems' in parsed && parsed.problems.map(({ at }) => at)).toEqual([
      '/rules/0/copy',
      '/rules/1/copy/refreshDays',
      '/rules/2/copy',
      '/rules/3/fonts',
      '/rules/4/fonts/0/family',
      '/rules/4/fonts/0/weight',
      '/rules/4/fonts/0/size',
      '/rules/5/hosts/0/origin',
      '/rules/6/hosts',
    ])
  })

  it('names a copy that was made by its hash, of one file, and says nothing of fetching it', () => {
    const hash = `sha384-${'A'.repeat(64)}`
    const copy = { content: hash, from: hash.replace(/A/g, 'B') }
    const good = [rule('a', { effect: 'local', file: '/a.css', copy })]
    expect(parseRuleFile({ format: RULES_FORMAT, rules: good })).toEqual({
      file: { format: RULES_FORMAT, rules: good },
    })
    const bad = [
      rule('a', { effect: 'local', copy }),
      rule('b', { effect: 'local', file: '/a.css', copy: { content: hash } }),
      rule('c', { effect: 'local', file: '/a.css', copy: { ...copy, content: 'sha1-x', refreshDays: 3 } }),
      rule('d', { effect: 'hold', file: '/a.css', copy }),
    ]
    const parsed = parseRuleFile({ format: RULES_FORMAT, rules: bad })
    expect('problems' in parsed && parsed.problems.map(({ at }) => at)).toEqual([
      '/rules/0/copy',
      '/rules/1/copy/from',
      '/rules/2/copy/refreshDays',
      '/rules/2/copy/content',
      '/rules/3/copy',
    ])
    // Two copies of one file in the same place can't both be served.
    const two = ['x', 'y'].map((id, n) => rule(id, { effect: 'local', file: '/a.css', copy: { ...copy, content: `sha384-${'CD'[n]!.repeat(64)}` } })) // prettier-ignore
    const [effect] = resolve(two, { path: '/', kind: 'page', area: 'public' }, PLAIN_VISIT)
    expect(effect).toMatchObject({ rules: ['x'], conflictsWith: ['y'] })
  })

  it('goes on saying what fits another effect, and nothing of the one before', () => {
    const held = { until: 'asked', ask: { words: 'Show' }, order: 'end', value: 3, hosts: [{ origin: 'https://a.test' }] } as const // prettier-ignore
    const before = { ...held, hosts: [...held.hosts] }
    expect(fittingParticulars(before, { effect: 'hold', until: 'asked' })).toEqual({ effect: 'hold', until: 'asked', ask: { words: 'Show' } }) // prettier-ignore
    expect(fittingParticulars(before, { effect: 'hold', until: 'seen' })).toEqual({ effect: 'hold', until: 'seen' })
    expect(fittingParticulars(before, { effect: 'hint' })).toEqual({ effect: 'hint', hosts: before.hosts })
    expect(withoutParticulars({ addon: 'a', ...before })).toEqual({ addon: 'a' })
  })

  it('takes back what was written', () => {
    fc.assert(
      fc.property(fc.uniqueArray(anyRule, { selector: (r) => r.id }), (rules) => {
        const parsed = parseRuleFile(JSON.parse(JSON.stringify({ format: RULES_FORMAT, rules })))
        expect(parsed).toEqual({ file: { format: RULES_FORMAT, rules } })
      }),
    )
  })

  it('says where each problem is and takes nothing', () => {
    const parsed = parseRuleFile({
      format: 'other',
      rules: [
        { id: 'a', addon: 'x', effect: 'burn', place: { level: 'page', path: 'no-slash' } },
        7,
        rule('b'),
        rule('b'),
      ],
    })
    expect(parsed).toEqual({
      problems: [
        { at: '/format', expected: '"unvelt-rules/1"' },
        { at: '/rules/0/effect', expected: expect.stringContaining('leave-out') },
        { at: '/rules/0/place/path', expected: 'a path that begins with /' },
        { at: '/rules/1', expected: 'an object' },
        { at: '/rules/3/id', expected: 'an id of its own' },
      ],
    })
  })

  it('survives any JSON', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => 'problems' in parseRuleFile(value)))
  })
})
