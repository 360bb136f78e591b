import fc from 'fast-check'
import { attribute, NO_SOURCES, predict, sumTolls, tolls, type Dependencies, type Effect } from '../src/index.js'
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

  it('never spares more than the page has, nor less than the add-on’s own requests', () => {
    fc.assert(
      fc.property(anyReading, anySources, fc.subarray(['a', 'b', 'counter', 'snippet']), (any, known, addOns) => {
        const charged = attribute(any, known)
        const { saved } = predict(any, charged, new Map(addOns.map((addOn) => [addOn, 'skip' as const])), NONE)
        const all = sumTolls(tolls(any, charged))
        const own = sumTolls(tolls(any, charged).filter((toll) => addOns.includes(toll.payer)))
        const spared = sumTolls(saved)
        for (const measure of ['requests', 'transferBytes'] as const) {
          expect(spared[measure]).toBeLessThanOrEqual(all[measure])
          expect(spared[measure]).toBeGreaterThanOrEqual(own[measure])
        }
      }),
    )
  })
})
