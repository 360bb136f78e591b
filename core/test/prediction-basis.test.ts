import fc from 'fast-check'
import {
  attribute,
  basisOf,
  EFFECTS,
  fileNames,
  packBasis,
  predict,
  predictFrom,
  presentPayers,
  unpackBasis,
  type AttributionSources,
  type PredictedEffect,
  type PredictionBasis,
  type Reading,
} from '../src/index.js'
import { anyReading, anySources } from './reading-arbitrary.js'

const kept = (basis: PredictionBasis): PredictionBasis =>
  unpackBasis(JSON.parse(JSON.stringify(packBasis(basis))) as unknown[])

/** One of the reading's add-ons, or one of its files, and something said of it. */
function anyEffects(reading: Reading, sources: AttributionSources): fc.Arbitrary<PredictedEffect[]> {
  const charged = attribute(reading, sources)
  const files = reading.requests.flatMap(({ id, url }) => {
    const { payer } = charged.requests.get(id)!
    return fileNames(new URL(url), true).map((file) => ({ addon: payer, file }))
  })
  const targets = [...[...presentPayers(reading, charged)].map((addon) => ({ addon })), ...files]
  return fc.array(
    fc
      .record({ target: fc.constantFrom(...targets), effect: fc.constantFrom(...EFFECTS) })
      .chain(({ target, effect }) =>
        effect === 'order'
          ? fc.constantFrom('defer', 'async', 'end').map((order) => ({ ...target, effect, order }) as PredictedEffect)
          : fc.constant({ ...target, effect } as PredictedEffect),
      ),
    { minLength: 1, maxLength: 4 },
  )
}

it('keeps what it was made of', () => {
  fc.assert(
    fc.property(anyReading, anySources, (reading, sources) => {
      const basis = basisOf(reading, attribute(reading, sources))
      expect(kept(basis)).toEqual(basis)
    }),
  )
})

it('predicts of any add-on and any file what the reading itself does', () => {
  fc.assert(
    fc.property(
      anyReading.chain((reading) =>
        anySources.chain((sources) =>
          fc.tuple(fc.constant(reading), fc.constant(sources), anyEffects(reading, sources)),
        ),
      ),
      fc.subarray(['a', 'b', 'lib', 'counter']),
      ([reading, sources, effects], libraries) => {
        const charged = attribute(reading, sources)
        const dependencies = { needs: { a: ['lib'], b: ['counter', 'lib'] }, libraries }
        expect(predictFrom(kept(basisOf(reading, charged)), effects, dependencies, { sources })).toEqual(
          predict(reading, charged, effects, dependencies, { sources }),
        )
      },
    ),
    { numRuns: 400 },
  )
})

it('is a small part of the reading', () => {
  const [reading] = fc.sample(anyReading, { numRuns: 1, seed: 7 })
  const [sources] = fc.sample(anySources, { numRuns: 1, seed: 7 })
  const basis = basisOf(reading!, attribute(reading!, sources!))
  expect(JSON.stringify(packBasis(basis)).length).toBeLessThan(JSON.stringify(basis).length / 2)
})
