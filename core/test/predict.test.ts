import fc from 'fast-check'
import {
  attribute,
  inHtmlAlone,
  NO_SOURCES,
  predict,
  sumTolls,
  tolls,
  type Dependencies,
  type Effect,
} from '../src/index.js'
import { anyReading, anySources, reading, record } from './reading-arbitrary.js'

const NONE: Dependencies = { needs: {}, libraries: [] }
const sources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: ['form', 'slider', 'lib'].map((addon) => ({ prefix: `/add-ons/${addon}/`, addon })),
  inline: [{ elementId: 'form-setup', addon: 'form' }],
}
const file = (id: string, addon: string, part = {}) =>
  record(id, { url: `https://site.test/add-ons/${addon}/${id}.js`, ...part })
const page = reading(
  [
    record('page', { url: 'https://site.test/', type: 'document', decodedBytes: 9000 }),
    file('form', 'form'),
    file('slider', 'slider'),
    file('lib', 'lib'),
    record('brought', {
      url: 'https://far.test/x.js',
      initiator: {
        type: 'script',
        url: 'https://site.test/add-ons/form/form.js',
        stack: [{ url: 'https://site.test/add-ons/form/form.js', line: 1, column: 1 }],
      },
    }),
  ],
  {
    inlineCode: [{ type: 'script', elementId: 'form-setup', hash: '', bytes: 40, startLine: 2, endLine: 3 }],
    serverTiming: [
      { name: 'total', duration: 100, description: '' },
      { name: 'addon.form', duration: 30, description: '' },
      { name: 'addon.form.db', duration: 20, description: '4' },
    ],
  },
)
const attribution = attribute(page, sources)
const run = (effects: [string, Effect][], dependencies = NONE) =>
  predict(page, attribution, new Map(effects), dependencies)

describe('predict', () => {
  it('takes off what the add-on loads and what only it brings in', () => {
    const { saved, requests } = run([['form', 'leave-out']])
    expect(requests.sort()).toEqual(['brought', 'form'])
    expect(sumTolls(saved)).toMatchObject({
      requests: 2,
      transferBytes: 200,
      decodedBytes: 440,
      serverMs: 0,
      queries: 0,
    })
  })

  it('postpones what is held with all that only it brings in, and counts none of it as saved', () => {
    const { saved, postponed } = run([['form', 'hold']])
    expect(sumTolls(saved)).toEqual(sumTolls([]))
    // Its inline code stays in the page, and the server works as before.
    expect(sumTolls(postponed)).toMatchObject({ requests: 2, transferBytes: 200, decodedBytes: 400, serverMs: 0 })
  })

  it('postpones nothing that is gone altogether', () => {
    const { saved, postponed } = run([
      ['form', 'leave-out'],
      ['slider', 'hold'],
    ])
    expect([sumTolls(saved).requests, sumTolls(postponed).requests]).toEqual([2, 1])
  })

  it('never saves and postpones the same, nor more than the page has', () => {
    const effect = fc.constantFrom<Effect>('skip', 'leave-out', 'hold', 'keep')
    fc.assert(
      fc.property(anyReading, anySources, fc.infiniteStream(effect), (one, from, drawn) => {
        const charged = attribute(one, from)
        const payers = [...new Set([...charged.requests.values()].map(({ payer }) => payer))]
        const effects = new Map(payers.map((payer) => [payer, drawn.next().value as Effect]))
        const { saved, postponed } = predict(one, charged, effects, NONE)
        const all = sumTolls(tolls(one, charged))
        for (const measure of ['requests', 'transferBytes'] as const)
          expect(sumTolls(saved)[measure] + sumTolls(postponed)[measure]).toBeLessThanOrEqual(all[measure])
      }),
    )
  })

  it('spares server time and queries only where the site does not run it', () => {
    expect(sumTolls(run([['form', 'skip']]).saved)).toMatchObject({ serverMs: 30, queries: 4, queryMs: 20 })
  })

  it('keeps a library that something kept needs, and lets it go with the last that does', () => {
    const needs = { needs: { form: ['lib'], slider: ['lib'] }, libraries: ['lib'] }
    const one = run([['form', 'skip']], needs)
    expect(one.requests).not.toContain('lib')
    expect(one.staying).toEqual({ lib: ['slider'] })
    expect(run([['lib', 'leave-out']], needs)).toMatchObject({ requests: [], staying: { lib: ['form', 'slider'] } })
    expect(
      run(
        [
          ['form', 'skip'],
          ['slider', 'skip'],
        ],
        needs,
      ).requests,
    ).toContain('lib')
  })

  it('spares nothing by keeping', () => expect(run([['form', 'keep']])).toMatchObject({ saved: [], requests: [] }))

  it('never spares more than the page has', () => {
    fc.assert(
      fc.property(anyReading, anySources, fc.subarray(['a', 'b', 'counter', 'snippet']), (any, known, addOns) => {
        const charged = attribute(any, known)
        const { saved } = predict(any, charged, new Map(addOns.map((addOn) => [addOn, 'skip' as const])), NONE)
        const all = sumTolls(tolls(any, charged))
        const spared = sumTolls(saved)
        for (const measure of ['requests', 'transferBytes'] as const) {
          expect(spared[measure]).toBeLessThanOrEqual(all[measure])
          expect(spared[measure]).toBeGreaterThanOrEqual(0)
        }
      }),
    )
  })
})

describe('what several ask for', () => {
  const by = (url: string) => ({ type: 'script' as const, url, stack: [{ url, line: 0, column: 0 }] })
  const FORM = 'https://site.test/add-ons/form/form.js'
  const SLIDER = 'https://site.test/add-ons/slider/slider.js'
  const SHARED = 'https://far.test/shared.js'
  const STYLE = 'https://far.test/shared.css'
  const asked = [
    record('page', { url: 'https://site.test/', type: 'document' }),
    file('form', 'form', { transferBytes: 5_000 }),
    file('slider', 'slider', { transferBytes: 7_000 }),
    record('net', { url: SHARED, transferBytes: 90_000, initiator: by(FORM) }),
    record('style', { url: STYLE, type: 'style', transferBytes: 20_000, initiator: by(SHARED) }),
    record('font', {
      url: 'https://far.test/f.woff2',
      type: 'font',
      transferBytes: 1_000,
      initiator: { type: 'parser', url: STYLE },
    }),
    record('memory', { url: SHARED, transferBytes: 0, fromCache: true, initiator: by(SLIDER) }),
  ]
  const without = (effects: [string, Effect][], requests = asked) => {
    const one = reading(requests)
    const { saved, requests: gone } = predict(one, attribute(one, sources), new Map(effects), NONE)
    return { bytes: sumTolls(saved).transferBytes, requests: sumTolls(saved).requests, gone: gone.sort() }
  }

  it('stays with all it brings in while one of them does, whoever had it from memory', () => {
    expect(without([['form', 'leave-out']])).toEqual({ bytes: 5_000, requests: 1, gone: ['form', 'net'] })
    expect(without([['slider', 'leave-out']])).toEqual({ bytes: 7_000, requests: 1, gone: ['memory', 'slider'] })
    const both = without([['form', 'leave-out'], ['slider', 'skip']]) // prettier-ignore
    expect(both).toMatchObject({ bytes: 123_000, requests: 5 })
  })

  it('also where a redirect leads to it', () => {
    const target = 'https://far.test/real.js'
    const redirected = [
      ...asked.slice(0, 3),
      record('from', { url: 'https://far.test/old.js', transferBytes: 300, initiator: by(FORM) }),
      record('real', { url: target, transferBytes: 8_000, redirectedFrom: 'from', initiator: { type: 'redirect' } }),
      record('direct', { url: target, transferBytes: 0, fromCache: true, initiator: by(SLIDER) }),
    ]
    expect(without([['form', 'leave-out']], redirected).bytes).toBe(5_300)
    expect(without([['form', 'leave-out']], redirected.slice(0, -1)).bytes).toBe(13_300)
  })

  it('goes with what began it, however it asks for itself', () => {
    const circle = [
      ...asked.slice(0, 2),
      record('a', { url: SHARED, transferBytes: 10, initiator: by(FORM) }),
      record('b', { url: STYLE, transferBytes: 20, initiator: by(SHARED) }),
      record('again', { url: SHARED, transferBytes: 0, fromCache: true, initiator: by(STYLE) }),
    ]
    expect(without([['form', 'leave-out']], circle)).toMatchObject({ bytes: 5_030, requests: 3 })
    // A recording that has lost who began it says nothing of what would go.
    expect(
      without(
        [['form', 'leave-out']],
        circle.filter(({ id }) => id !== 'a' && id !== 'form'),
      ).bytes,
    ).toBe(0)
  })
})

describe('what no mechanism reaches', () => {
  const style = 'https://site.test/themes/t/t.css'
  const one = reading([
    record('page', { url: 'https://site.test/', type: 'document' }),
    record('theme', { url: style, type: 'style' }),
    file('picture', 'form', { type: 'picture', initiator: { type: 'parser', url: style } }),
    file('module', 'form', { initiator: { type: 'script', url: 'https://site.test/themes/t/m.js' } }),
    record('m', { url: 'https://site.test/themes/t/m.js' }),
    file('tag', 'form'),
  ])
  it('is named with its place and counts nowhere', () => {
    const { saved, requests, outOfReach } = predict(
      one,
      attribute(one, sources),
      new Map([['form', 'leave-out']]),
      NONE,
    )
    expect([sumTolls(saved).requests, requests]).toEqual([1, ['tag']])
    expect(outOfReach.map(({ request, payer, because }) => [request, payer, because])).toEqual([
      ['picture', 'form', 'a stylesheet names it'],
      ['module', 'form', 'a module imports it'],
    ])
  })

  it('is a part of a glued file, but for the site that glues', () => {
    const glued = { ...sources, glued: { '/all.js': [{ addon: 'form', from: 0, bytes: 60 }, { addon: 'slider', from: 60, bytes: 140 }] } } // prettier-ignore
    const page = reading([record('page', { url: 'https://site.test/', type: 'document' }), record('all', { url: 'https://site.test/all.js', decodedBytes: 200 })]) // prettier-ignore
    const run = (effects: [string, Effect][]) => predict(page, attribute(page, glued), new Map(effects), NONE)
    expect(sumTolls(run([['form', 'leave-out']]).saved)).toEqual(sumTolls([]))
    expect(run([['form', 'leave-out']]).outOfReach).toMatchObject([{ request: 'all', payer: 'form', because: 'it is a part of a glued file' }]) // prettier-ignore
    expect(sumTolls(run([['form', 'skip']]).saved)).toMatchObject({ requests: 0, decodedBytes: 60, transferBytes: 30 })
    expect(sumTolls(run([['form', 'skip'], ['slider', 'skip']]).saved)).toMatchObject({ requests: 1, decodedBytes: 200 }) // prettier-ignore
  })

  it('is everything of a page that is not rewritten, but where the site itself leaves it out', () => {
    const wide = reading([record('page', { url: 'https://site.test/', type: 'document', mimeType: 'text/html', responseHeaders: { 'content-type': 'text/html; charset=UTF-16LE' } }), file('tag', 'form')]) // prettier-ignore
    const run = (effect: Effect) => sumTolls(predict(wide, attribute(wide, sources), new Map([['form', effect]]), NONE).saved) // prettier-ignore
    expect([run('leave-out').requests, run('skip').requests]).toEqual([0, 1])
  })
})

describe('every target and effect', () => {
  const all = (effects: Parameters<typeof predict>[2], known = {}) => predict(page, attribution, effects, NONE, known)

  it('one file, and a file that is kept', () => {
    expect(all([{ addon: 'form', file: '/add-ons/form/form.js', effect: 'leave-out' }]).requests.sort()).toEqual(['brought', 'form']) // prettier-ignore
    expect(all([{ addon: 'form', effect: 'leave-out' }, { addon: 'form', file: '/add-ons/form/form.js', effect: 'keep' }]).requests).toEqual([]) // prettier-ignore
  })

  it('a feature, by its files and its steps', () => {
    const features = { form: { dates: { files: ['/add-ons/form/form.js'], steps: ['dates'] } } }
    const steps = [{ addon: 'form', step: 'dates', calls: 1, selfMs: 12, queries: 2, queryMs: 3 }]
    const { requests, saved } = all([{ addon: 'form', feature: 'dates', effect: 'skip' }], { features, steps })
    expect(requests.sort()).toEqual(['brought', 'form'])
    expect(sumTolls(saved)).toMatchObject({ requests: 2, serverMs: 12, queries: 2, queryMs: 3 })
  })

  it('a feature of which nobody knows what it loads is for a rehearsal to tell', () =>
    expect(all([{ addon: 'form', feature: 'dates', effect: 'skip' }])).toMatchObject({
      saved: [],
      requests: [],
      toRehearse: [{ addon: 'form', feature: 'dates' }],
    }))

  it('a setting is for a rehearsal to tell', () =>
    expect(all([{ addon: 'form', setting: 'rows', value: 3, effect: 'set' }])).toMatchObject({
      saved: [],
      toRehearse: [{ addon: 'form', setting: 'rows', value: 3 }],
    }))

  it('another turn postpones scripts, and an end of the page styles too', () => {
    const one = reading([record('page', { url: 'https://site.test/', type: 'document' }), file('js', 'form'), file('css', 'form', { type: 'style' })]) // prettier-ignore
    const later = (order: 'defer' | 'end') => predict(one, attribute(one, sources), [{ addon: 'form', effect: 'order', order }], NONE).postponed // prettier-ignore
    expect([sumTolls(later('defer')).requests, sumTolls(later('end')).requests]).toEqual([1, 2])
  })

  it('a local copy comes instead of what it is a copy of', () => {
    const far = reading([record('page', { url: 'https://site.test/', type: 'document' }), record('f', { url: 'https://far.test/x.js', transferBytes: 70 })]) // prettier-ignore
    const known = { ...sources, outsiders: { 'far.test': 'far' } }
    const { saved, added } = predict(far, attribute(far, known), [{ addon: 'far', effect: 'local' }], NONE)
    expect([sumTolls(saved).transferBytes, sumTolls(added).transferBytes]).toEqual([70, 70])
  })

  it('a copy that was made is lighter than its file by what was made of it, and by no more than the file had', () => {
    const css = file('css', 'form', { type: 'style', url: 'https://site.test/add-ons/form/form.css', transferBytes: 90, decodedBytes: 300 }) // prettier-ignore
    const late = file('late', 'form', { type: 'style', url: 'https://site.test/add-ons/form/late.css', transferBytes: 90, initiator: { type: 'script', stack: [{ url: 'https://site.test/add-ons/form/js.js' }] } }) // prettier-ignore
    const one = reading([
      record('page', { url: 'https://site.test/', type: 'document' }),
      file('js', 'form'),
      css,
      late,
    ])
    const attribution = attribute(one, sources)
    const served = (name: string, transferBytes: number) => {
      const effects = [{ addon: 'form', file: `/add-ons/form/${name}.css`, effect: 'local', copy: { content: 'c', from: 'f' } }] as const // prettier-ignore
      const madeCopies = { c: { transferBytes, decodedBytes: 200, idleBytes: 0 } }
      const { saved, added, requests } = predict(one, attribution, effects, NONE, { madeCopies })
      expect(requests).toEqual([])
      return [
        sumTolls(saved).transferBytes - sumTolls(added).transferBytes,
        sumTolls(saved).decodedBytes - sumTolls(added).decodedBytes,
        sumTolls(saved).requests - sumTolls(added).requests,
      ]
    }
    expect(served('form', 60)).toEqual([60, 200, 0])
    expect(served('form', 600)[0]).toBe(90)
    // What a script puts into the page is in no tag that could be exchanged.
    expect(served('late', 60)).toEqual([0, 0, 0])
    expect([...inHtmlAlone(one, attribution)]).toContain(css.url)
    expect([...inHtmlAlone(one, attribution)]).not.toContain(late.url)
  })

  it('an early connection spares nothing, and what Unvelt puts in the page is said', () => {
    expect(all([{ addon: 'form', effect: 'hint' }])).toMatchObject({ saved: [], postponed: [], requests: [] })
    expect(sumTolls(all([{ addon: 'form', effect: 'hold' }], { sources }).added).decodedBytes).toBeGreaterThan(500)
    expect(all([{ addon: 'form', effect: 'skip' }], { sources }).added).toEqual([])
  })

  it('what goes is not held as well, and whatever a slug is called', () => {
    const named = {
      ...sources,
      prefixes: [...sources.prefixes, { prefix: '/add-ons/constructor/', addon: 'constructor' }],
    }
    const one = reading([record('page', { url: 'https://site.test/', type: 'document' }), file('x', 'constructor'), file('lib', 'lib')]) // prettier-ignore
    const needs = { needs: { x: ['lib'] }, libraries: ['lib'] }
    expect(predict(one, attribute(one, named), new Map([['constructor', 'skip']]), needs).requests).toEqual(['x'])
  })
})

describe('libraries', () => {
  const needs = (needs: Record<string, string[]>, libraries: string[]) => ({ needs, libraries })
  it('that only inline code needs stay', () => {
    const known = { ...sources, inline: [{ elementId: 'form-setup', addon: 'snip' }] }
    const { requests, staying } = predict(page, attribute(page, known), new Map([['form', 'leave-out']]), needs({ form: ['lib'], snip: ['lib'] }, ['lib'])) // prettier-ignore
    expect([requests.includes('lib'), staying]).toEqual([false, { lib: ['snip'] }])
  })

  it('of libraries go with them, in whatever order they are listed', () => {
    for (const libraries of [['lib', 'slider'], ['slider', 'lib']]) // prettier-ignore
      expect(run([['form', 'leave-out']], needs({ form: ['lib'], lib: ['slider'] }, libraries)).requests.sort()).toEqual(['brought', 'form', 'lib', 'slider']) // prettier-ignore
  })

  it('that need only each other stay where nothing is taken', () =>
    expect(run([], needs({ lib: ['slider'], slider: ['lib'] }, ['lib', 'slider'])).requests).toEqual([]))
})

/** A made-up page: files, what each asks for, and the tags in its HTML. */
interface MadeUp {
  tags: number[]
  asks: number[][]
}
const FILES = 9
const madeUp: fc.Arbitrary<MadeUp> = fc.record({
  tags: fc.array(fc.nat(FILES - 1), { minLength: 1, maxLength: 5 }),
  asks: fc.array(fc.array(fc.nat(FILES - 1), { maxLength: 3 }), { minLength: FILES, maxLength: FILES }),
})
const ownerOf = (n: number) => ['form', 'slider', 'lib'][n % 3]!
const addressOf = (n: number) => `https://site.test/add-ons/${ownerOf(n)}/${n}.${n % 4 === 3 ? 'css' : 'js'}`

/** Loads it as a browser does: each file over the line once and from memory after that; what has gone is not asked for. */
function load({ tags, asks }: MadeUp, without: ReadonlySet<string>) {
  const requests = [record('page', { url: 'https://site.test/', type: 'document' })]
  const loaded = new Set<number>()
  const waiting: { n: number; by: number | null }[] = tags.map((n) => ({ n, by: null }))
  for (let next = waiting.shift(); next; next = waiting.shift()) {
    const { n, by } = next
    // Nothing can keep a stylesheet from what it names.
    const isRefused = without.has(ownerOf(n)) && !(by !== null && by % 4 === 3)
    if (isRefused) continue
    const url = by === null ? 'https://site.test/' : addressOf(by)
    const isStyle = by !== null && by % 4 === 3
    requests.push(
      record(`r${requests.length}`, {
        url: addressOf(n),
        type: n % 4 === 3 ? 'style' : 'script',
        fromCache: loaded.has(n),
        transferBytes: loaded.has(n) ? 0 : 100 + n,
        decodedBytes: 1_000 + n,
        initiator:
          by === null || isStyle
            ? { type: 'parser', url }
            : { type: 'script', url, stack: [{ url, line: 0, column: 0 }] },
      }),
    )
    if (loaded.has(n)) continue
    loaded.add(n)
    for (const asked of asks[n]!) waiting.push({ n: asked, by: n })
  }
  return reading(requests)
}

it('the prediction is what a page without the add-ons really loads', () => {
  fc.assert(
    fc.property(madeUp, fc.subarray(['form', 'slider', 'lib']), (made, payers) => {
      const before = load(made, new Set())
      const after = load(made, new Set(payers))
      const total = (of: typeof before) => sumTolls(tolls(of, attribute(of, sources)))
      const effects = new Map(payers.map((payer) => [payer, 'leave-out' as const]))
      const { saved } = predict(before, attribute(before, sources), effects, NONE)
      for (const measure of ['requests', 'transferBytes', 'decodedBytes'] as const)
        expect([measure, total(before)[measure] - sumTolls(saved)[measure]]).toEqual([measure, total(after)[measure]])
    }),
    { numRuns: 1_000 },
  )
})
