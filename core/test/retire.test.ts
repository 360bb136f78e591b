import fc from 'fast-check'
import {
  missedRequests,
  retireCandidates,
  RETIREMENT_STEPS,
  retirementSteps,
  searchesFor,
  wordsOf,
  type RetireCase,
  type RetirementFacts,
  type UseWord,
} from '../src/index.js'
import { casePages, type PageCase } from './case-pages.js'

const NOW = new Date('2026-11-29T12:00:00Z')
const VIEWS = { total: 1_000, pages: 10 }
const page = (n: number, word: UseWord, more: Partial<PageCase> = {}): PageCase => ({
  path: `/p${n}`,
  area: 'public',
  views: 100,
  word,
  transferBytes: 20_000,
  serverMs: 4,
  mainThreadMs: 10,
  requests: 2,
  ...more,
})
const on = (...pages: PageCase[]) => casePages(pages, VIEWS)
const addOn = (slug: string, more: Partial<RetireCase> = {}): RetireCase => ({
  slug,
  name: slug,
  kind: 'plugin',
  active: true,
  works: null,
  neededBy: [],
  told: false,
  canSkip: true,
  jobs: [],
  outsideHosts: [],
  features: [],
  verdict: 'undecided',
  tableBytes: 0,
  usedOn: [],
  pages: on(page(1, 'not seen')),
  diskBytes: 1_000,
  tables: [],
  settings: 0,
  tasks: [],
  since: null,
  waitsFor: [],
  decided: null,
  ...more,
})
const found = (...cases: RetireCase[]) => retireCandidates(cases, NOW)

describe('candidates', () => {
  it('what waits for an outsider that is down, or slow, is one', () => {
    const used = { usedOn: ['/p1'], pages: on(page(1, 'used')) }
    const host = { host: 'far.test', usualMs: 1_400, failed: 0 }
    const reasonsOf = (waitsFor: RetireCase['waitsFor']) =>
      found(addOn('report', { ...used, waitsFor })).candidates[0]?.reasons
    expect(reasonsOf([host])).toEqual([{ kind: 'waits for outsiders', about: ['1400', 'far.test'] }])
    expect(reasonsOf([host, { host: 'gone.test', usualMs: 3, failed: 2 }])).toEqual([
      { kind: 'waits for outsiders', about: ['no answer', 'gone.test'] },
    ])
    expect(reasonsOf([{ ...host, usualMs: 900 }])).toBeUndefined()
  })

  it('what is in use nowhere may go, and says what it costs in a thousand views', () => {
    const { candidates } = found(addOn('rotor', { pages: on(page(1, 'not seen'), page(2, 'not seen')) }))
    expect(candidates).toHaveLength(1)
    expect(candidates[0]).toMatchObject({
      addon: 'rotor',
      reasons: [{ kind: 'used nowhere', about: [] }],
      certainty: 'readings with steps say so',
      // Two pages with a tenth of the visits each.
      perThousand: { requests: 400, transferBytes: 4_000_000, serverMs: 800, mainThreadMs: 2_000 },
    })
  })
  it('what is switched off may go, whatever is known of its use', () => {
    const { candidates, questions } = found(addOn('old', { active: false, pages: on(page(1, 'unknown')) }))
    expect(candidates.map(({ reasons }) => reasons[0]!.kind)).toEqual(['switched off'])
    expect(questions).toEqual([])
  })
  it('what is used on one page of twenty, and what does a job twice', () => {
    const pages = on(...Array.from({ length: 20 }, (_, n) => page(n, n === 0 ? 'used' : 'not seen')))
    const { candidates } = found(
      addOn('map', { pages, usedOn: ['/p0'], told: true, jobs: ['maps'] }),
      addOn('atlas', { pages: on(page(1, 'used')), usedOn: ['/p1'], jobs: ['maps'] }),
    )
    expect(candidates.map(({ addon, reasons }) => [addon, reasons.map(({ kind }) => kind)])).toEqual([
      ['map', ['used on few pages', 'job done twice']],
      ['atlas', ['job done twice']],
    ])
  })
  it('a long time alone is no reason', () => {
    const since = new Date('2020-01-01')
    expect(found(addOn('steady', { since, pages: on(page(1, 'used')), usedOn: ['/p1'] })).candidates).toEqual([])
    expect(found(addOn('old', { since })).candidates[0]!.reasons.map(({ kind }) => kind)).toContain('not updated')
  })

  const cases = fc.array(
    fc.record({
      active: fc.boolean(),
      works: fc.constantFrom(null, 'unseen' as const, 'once' as const),
      kind: fc.constantFrom('plugin', 'theme', 'built-in', 'font'),
      verdict: fc.constantFrom('undecided', 'keep', 'retire'),
      words: fc.array(fc.constantFrom<UseWord>('used', 'not seen', 'unknown', 'planned'), { maxLength: 15 }),
      needsPrevious: fc.boolean(),
      job: fc.constantFrom('', 'share', 'count'),
    }),
    { maxLength: 8 },
  )
  it('never what works unseen, is planned, is needed, is kept, or of whose use nothing is known; nothing is both', () => {
    fc.assert(
      fc.property(cases, (list) => {
        const made = list.map(({ active, works, kind, verdict, words, job }, n) =>
          addOn(`a${n}`, {
            active,
            works,
            kind,
            verdict,
            jobs: job ? [job] : [],
            pages: on(...words.map((word, at) => page(at, word))),
            usedOn: words.flatMap((word, at) => (word === 'used' || word === 'planned' ? [`/p${at}`] : [])),
            neededBy: list[n + 1]?.needsPrevious ? [`a${n + 1}`] : [],
          }),
        )
        const { candidates, questions } = found(...made)
        const asked = new Set(questions.map(({ addon }) => addon))
        for (const { addon } of candidates) {
          const one = made.find(({ slug }) => slug === addon)!
          expect(asked.has(addon)).toBe(false)
          expect(one.works).toBeNull()
          expect(['theme', 'built-in']).not.toContain(one.kind)
          expect(one.verdict).not.toBe('keep')
          expect(one.pages.has((word) => word === 'planned')).toBe(false)
          expect(one.neededBy.some((slug) => made.find((other) => other.slug === slug)?.active)).toBe(false)
          expect(one.active && one.usedOn.length === 0 && one.pages.has((word) => word === 'unknown')).toBe(false)
        }
      }),
    )
  })
})

describe('steps', () => {
  const fresh: RetirementFacts = {
    isPart: false,
    looked: true,
    usedOn: 0,
    neededBy: [],
    successor: null,
    word: false,
    snapshot: null,
    rehearsal: null,
    isActive: true,
    isInstalled: true,
    watchUntil: null,
    sweptAt: null,
    lookedAt: NOW,
    missed: 0,
    leftovers: null,
    proved: false,
  }
  const at = (facts: Partial<RetirementFacts>) =>
    retirementSteps({ ...fresh, ...facts }, NOW).find(({ state }) => state === 'now')?.step
  const ready = { successor: 'nothing', word: true, snapshot: 'sound', rehearsal: 'passed' } as const

  it('goes on by the facts', () => {
    expect(at({ looked: false })).toBe('use')
    expect(at({ neededBy: ['Larder'] })).toBe('needs')
    expect(at({})).toBe('successor')
    expect(at({ successor: 'nothing', usedOn: 3 })).toBe('successor')
    expect(at({ successor: 'nothing' })).toBe('word')
    expect(at({ ...ready, snapshot: null })).toBe('snapshot')
    expect(at({ ...ready, snapshot: 'unsound' })).toBe('snapshot')
    expect(at({ ...ready, rehearsal: 'failed' })).toBe('rehearsal')
    expect(at({ ...ready, rehearsal: 'stale' })).toBe('rehearsal')
    expect(at(ready)).toBe('off')
  })
  it('is watched to the end of its time, and a sweep after it', () => {
    const off = { ...ready, isActive: false, watchUntil: new Date('2026-11-30T12:00:00Z') }
    expect(at(off)).toBe('watch')
    const over = { ...off, watchUntil: new Date('2026-11-28T12:00:00Z') }
    expect(at(over)).toBe('watch')
    expect(at({ ...over, sweptAt: new Date('2026-11-28T11:00:00Z') })).toBe('watch')
    expect(at({ ...over, sweptAt: new Date('2026-11-28T13:00:00Z') })).toBe('removal')
    expect(at({ ...over, sweptAt: new Date('2026-11-28T13:00:00Z'), lookedAt: null })).toBe('watch')
    expect(at({ ...over, sweptAt: new Date('2026-11-28T13:00:00Z'), missed: 1 })).toBe('watch')
  })
  it('removed, its leftovers go, and a sweep proves it', () => {
    const gone = { ...ready, isActive: false, isInstalled: false }
    expect(at({ ...gone, leftovers: 2 })).toBe('leftovers')
    expect(at({ ...gone, leftovers: 0 })).toBe('proof')
    expect(at({ ...gone, leftovers: 0, proved: true })).toBeUndefined()
  })
  it('features go without a successor, and stay installed with their add-on', () => {
    const part = {
      ...ready,
      isPart: true,
      successor: null,
      isActive: false,
      watchUntil: new Date('2026-11-28T12:00:00Z'),
    }
    expect(at({ ...fresh, isPart: true })).toBe('word')
    expect(at({ ...part, sweptAt: NOW })).toBe('proof')
    expect(at({ ...part, sweptAt: NOW, proved: true })).toBeUndefined()
  })
  it('whoever switches it on again in between is seen', () => {
    expect(at({ ...ready, watchUntil: new Date('2026-11-28T12:00:00Z'), sweptAt: NOW })).toBe('off')
  })
  it('one step at most is now, all before it are done, and none after it passes for it', () => {
    const facts = fc.record({
      isPart: fc.boolean(),
      looked: fc.boolean(),
      usedOn: fc.nat(3),
      neededBy: fc.array(fc.constant('x'), { maxLength: 1 }),
      successor: fc.constantFrom(null, 'nothing'),
      word: fc.boolean(),
      snapshot: fc.constantFrom(null, 'sound' as const, 'unsound' as const),
      rehearsal: fc.constantFrom(null, 'passed' as const, 'failed' as const, 'running' as const, 'stale' as const),
      isActive: fc.boolean(),
      isInstalled: fc.boolean(),
      watchUntil: fc.constantFrom(null, new Date(0), new Date('2027-01-01')),
      sweptAt: fc.constantFrom(null, NOW),
      lookedAt: fc.constantFrom(null, NOW),
      missed: fc.nat(1),
      leftovers: fc.constantFrom(null, 0, 2),
      proved: fc.boolean(),
    })
    fc.assert(
      fc.property(facts, (one) => {
        const steps = retirementSteps(one, NOW)
        expect(steps.map(({ step }) => step)).toEqual([...RETIREMENT_STEPS])
        const first = steps.findIndex(({ state }) => state !== 'done')
        expect(steps.filter(({ state }) => state === 'now')).toHaveLength(first < 0 ? 0 : 1)
        if (first >= 0) expect(steps[first]!.state).toBe('now')
        for (const { state, why } of steps) expect(why === null).toBe(state === 'done')
      }),
    )
  })
})

describe('what is missed', () => {
  const line = (path: string, status: number, time = '29/Nov/2026:13:00:00 +0100', from = '-') =>
    `10.0.0.1 - - [${time}] "GET ${path} HTTP/1.1" ${status} 12 "${from}" "a browser"`
  const since = new Date('2026-11-29T11:30:00Z')
  it('counts what was asked for in vain since, with the pages that asked', () => {
    const log = [
      line('/parts/rotor/rotor.js?v=2', 404, undefined, 'https://site.test/old'),
      line('/parts/rotor/rotor.js', 404),
      line('/parts/rotor/gone.css', 410),
      line('/parts/rotor/rotor.js', 200),
      line('/parts/rotor/rotor.js', 404, '29/Nov/2026:12:00:00 +0100'),
      line('/parts/other/x.js', 404),
      'no line of a log',
      line('/parts/rotor/rotor.js', 404, '29/Xyz/2026:13:00:00 +0100'),
    ].join('\n')
    expect(missedRequests(log, since, ['/parts/rotor/'])).toEqual([
      { path: '/parts/rotor/rotor.js', times: 2, from: ['https://site.test/old'] },
      { path: '/parts/rotor/gone.css', times: 1, from: [] },
    ])
    expect(missedRequests(log, since, ['/parts/rotor/gone.css'])).toHaveLength(1)
  })
  it('takes whatever a log says', () => {
    fc.assert(fc.property(fc.string({ maxLength: 400 }), (text) => void missedRequests(text, since, ['/', '/a/'])))
  })
})

describe('what is searched for', () => {
  const since = new Date('2026-11-29T11:30:00Z')
  const line = (target: string, time = '29/Nov/2026:13:00:00 +0100') =>
    `10.0.0.1 - - [${time}] "GET ${target} HTTP/1.1" 200 12 "-" "a browser"`
  it('finds searches with one of the words in them, whatever the field is called', () => {
    const log = [
      line('/search?q=Visit+COUNTER'),
      line('/?s=visit%20counter'),
      line('/search?q=encounter'),
      line('/search?page=2&query=counters+of+trees'),
      line('/search?q=counter', '29/Nov/2026:12:00:00 +0100'),
      line('/about?ref=counter'),
      line('/search?q=%E0%A4%A'),
    ].join('\n')
    expect(searchesFor(log, since, ['Counter'])).toEqual([
      { asked: 'visit counter', times: 2 },
      { asked: 'counters of trees', times: 1 },
    ])
    expect(searchesFor(log, since, [])).toEqual([])
    expect(searchesFor(log, since, [' ', '-'])).toEqual([])
  })
  it('looks by the words of a name that are not said of everything', () => {
    expect(wordsOf(['Page Tally Pro', 'The River-Level widget'])).toEqual(['tally', 'river', 'level'])
  })
  it('takes whatever a log says', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), fc.array(fc.string({ maxLength: 9 })), (text, words) => {
        for (const { times } of searchesFor(`${line(`/search?q=${text}`)}\n${text}`, since, words))
          expect(times).toBeGreaterThan(0)
      }),
    )
  })
})
