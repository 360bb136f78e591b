import fc from 'fast-check'
import {
  attribute,
  basisOf,
  EFFECTS,
  fileNames,
  MEASURES,
  NOT_ADDONS,
  pageGroups,
  predictFrom,
  PredictionPack,
  presentPayers,
  saidBy,
  sumTolls,
  type AttributionSources,
  type Measure,
  type PredictedEffect,
  type Reading,
} from '../src/index.js'
import { anyReading, anySources } from './reading-arbitrary.js'

const FIRST = Object.fromEntries(MEASURES.map((measure) => [measure, 0])) as Record<Measure, number>

/** By what made copies are lighter. */
const COPIES = {
  some: { transferBytes: 40_000, decodedBytes: 90_000, idleBytes: 1_000 },
  much: { transferBytes: 4_000_000, decodedBytes: 900_000, idleBytes: 0 },
}

/** Add-ons of the reading, or their files, and something said of each. */
function anyEffects(reading: Reading, sources: AttributionSources): fc.Arbitrary<PredictedEffect[]> {
  const charged = attribute(reading, sources)
  const files = reading.requests.flatMap(({ id, url }) => {
    const { payer } = charged.requests.get(id)!
    if (NOT_ADDONS.includes(payer)) return []
    return fileNames(new URL(url), true).map((file) => ({ addon: payer, file }))
  })
  const targets = [
    { addon: 'a' },
    ...[...presentPayers(reading, charged)].flatMap((addon) => (NOT_ADDONS.includes(addon) ? [] : [{ addon }])),
    ...files,
  ]
  return fc.array(
    fc
      .record({ target: fc.constantFrom(...targets), effect: fc.constantFrom(...EFFECTS) })
      .chain(({ target, effect }) =>
        effect === 'local'
          ? fc
              .constantFrom('some', 'much', 'gone', undefined)
              .map((content) => ({ ...target, effect, ...(content && { copy: { content } }) }) as PredictedEffect)
          : effect === 'order'
            ? fc.constantFrom('defer', 'async', 'end').map((order) => ({ ...target, effect, order }) as PredictedEffect)
            : fc.constant({ ...target, effect } as PredictedEffect),
      ),
    { minLength: 1, maxLength: 4 },
  )
}

it('sums over groups to what is predicted, whatever is said of add-ons and of their files', () => {
  fc.assert(
    fc.property(
      anyReading.chain((reading) =>
        anySources.chain((sources) =>
          fc.tuple(fc.constant(reading), fc.constant(sources), anyEffects(reading, sources)),
        ),
      ),
      fc.subarray(['a', 'b', 'lib', 'counter']),
      ([reading, sources, said], libraries) => {
        // Of one thing one thing is said.
        const effects = [...new Map(said.map((each) => [`${each.addon} ${each.file ?? ''}`, each])).values()]
        const dependencies = { needs: { a: ['lib'], b: ['counter', 'lib'] }, libraries }
        const basis = basisOf(reading, attribute(reading, sources))
        const prediction = predictFrom(basis, effects, dependencies, { madeCopies: COPIES })
        const pack = new PredictionPack([{ id: 7, groups: pageGroups([basis], FIRST) }], dependencies)
        pack.predict(saidBy(effects, COPIES), undefined, (_, saved, postponed) => {
          const [spared, added, later] = [prediction.saved, prediction.added, prediction.postponed].map(sumTolls)
          MEASURES.forEach((measure, n) => {
            expect([measure, saved[n]]).toEqual([measure, expect.closeTo(spared![measure] - added![measure], 5)])
            expect([measure, postponed[n]]).toEqual([measure, expect.closeTo(later![measure], 5)])
          })
        })
        const named = (list: { payer: string; url: string; because: string }[]) =>
          list
            .filter(({ payer }) => !NOT_ADDONS.includes(payer))
            .map(({ payer, url, because }) => `${payer} ${url} ${because}`)
            .sort()
        expect(named(pack.unreached(saidBy(effects, COPIES)))).toEqual(named(prediction.outOfReach))
      },
    ),
    { numRuns: 1500 },
  )
})

it('takes each measure from the repeat that stands for it', () => {
  fc.assert(
    fc.property(
      fc
        .tuple(anyReading, anyReading)
        .chain(([one, two]) =>
          anySources.chain((sources) =>
            fc.tuple(fc.constant([one, two]), fc.constant(sources), anyEffects(one, sources)),
          ),
        ),
      fc.array(fc.nat(1), { minLength: MEASURES.length, maxLength: MEASURES.length }),
      ([readings, sources, effects], drawn) => {
        const bases = readings.map((reading) => basisOf(reading, attribute(reading, sources)))
        const none = { needs: {}, libraries: [] }
        const middle = Object.fromEntries(MEASURES.map((measure, n) => [measure, drawn[n]!])) as typeof FIRST
        const predictions = bases.map((basis) => predictFrom(basis, effects, none, { madeCopies: COPIES }))
        const pack = new PredictionPack([{ id: 7, groups: pageGroups(bases, middle) }], none)
        pack.predict(saidBy(effects, COPIES), undefined, (_, saved, postponed) =>
          MEASURES.forEach((measure, n) => {
            const { saved: spared, added, postponed: later } = predictions[middle[measure]]!
            expect([measure, saved[n]]).toEqual([
              measure,
              expect.closeTo(sumTolls(spared)[measure] - sumTolls(added)[measure], 5),
            ])
            expect([measure, postponed[n]]).toEqual([measure, expect.closeTo(sumTolls(later)[measure], 5)])
          }),
        )
      },
    ),
    { numRuns: 300 },
  )
})
