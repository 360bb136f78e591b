import fc from 'fast-check'
import {
  attribute,
  basisOf,
  MEASURES,
  NOT_ADDONS,
  pageGroups,
  predict,
  PredictionPack,
  presentPayers,
  saidBy,
  sumTolls,
  type AttributionSources,
  type Dependencies,
  type Measure,
  type Reading,
} from '../src/index.js'
import { anyReading, anySources } from './reading-arbitrary.js'

const FIRST = Object.fromEntries(MEASURES.map((measure) => [measure, 0])) as Record<Measure, number>
const groupsOf = (reading: Reading, sources: AttributionSources) =>
  pageGroups([basisOf(reading, attribute(reading, sources))], FIRST)

const effectsOf = (unloads: ReadonlyMap<string, 'skip' | 'leave-out'>) =>
  [...unloads].map(([addon, effect]) => ({ addon, effect }))

const anyDependencies: fc.Arbitrary<Dependencies> = fc.record({
  needs: fc.dictionary(
    fc.constantFrom('a', 'b', 'snippet', 'lib', 'counter'),
    fc.subarray(['a', 'b', 'lib', 'counter'], { minLength: 1 }),
    { maxKeys: 4 },
  ),
  libraries: fc.subarray(['a', 'b', 'lib', 'counter']),
})

it('sums to what is predicted from the reading, whatever payers go and how', () => {
  fc.assert(
    fc.property(
      anyReading,
      anySources,
      anyDependencies,
      fc.infiniteStream(fc.nat(3)),
      (reading, sources, dependencies, drawn) => {
        const charged = attribute(reading, sources)
        const pack = new PredictionPack([{ id: 7, groups: groupsOf(reading, sources) }], dependencies)
        const payers = [...presentPayers(reading, charged)].sort()
        for (let round = 0; round < 4; round++) {
          const unloads = new Map(
            payers.flatMap((payer): [string, 'skip' | 'leave-out'][] => {
              const draw = drawn.next().value
              return draw > 1 ? [[payer, draw === 2 ? 'skip' : 'leave-out']] : []
            }),
          )
          const { saved, outOfReach } = predict(reading, charged, unloads, dependencies)
          const named = (list: { payer: string; url: string }[]) =>
            list
              .filter(({ payer }) => unloads.has(payer))
              .map(({ payer, url }) => `${payer} ${url}`)
              .sort()
          // Of the page's own and the CMS's things nobody is told; libraries go for others' sake.
          const told = outOfReach.filter(({ payer }) => !NOT_ADDONS.includes(payer))
          if (dependencies.libraries.length === 0)
            expect(named(pack.unreached(saidBy(effectsOf(unloads))))).toEqual(named(told))
          const summed = pack.spared(unloads)
          const expected = sumTolls(saved)
          MEASURES.forEach((measure, n) =>
            expect([measure, summed[n]]).toEqual([measure, expect.closeTo(expected[measure], 6)]),
          )
        }
      },
    ),
    { numRuns: 600 },
  )
})

it('gives pages one by one, and only those asked for', () => {
  fc.assert(
    fc.property(fc.array(anyReading, { minLength: 2, maxLength: 4 }), anySources, (readings, sources) => {
      const pack = new PredictionPack(
        readings.map((reading, id) => ({ id, groups: groupsOf(reading, sources) })),
        { needs: {}, libraries: [] },
      )
      const unloads = new Map([['a', 'skip' as const]])
      const byPage = new Map<number, number[]>()
      const all = pack.spared(unloads, undefined, (id, figures) => void byPage.set(id, [...figures]))
      expect([...byPage.keys()]).toEqual(readings.map((_, id) => id))
      expect([...pack.spared(unloads)]).toEqual([...all])
      expect([...all]).toEqual(
        MEASURES.map((_, n) => [...byPage.values()].reduce((sum, figures) => sum + figures[n]!, 0)),
      )
      expect([...pack.spared(unloads, new Set([1]))]).toEqual(byPage.get(1))
    }),
  )
})

it('spares nothing for nobody, and never less for more', () => {
  fc.assert(
    fc.property(
      anyReading,
      anySources,
      fc.subarray(['a', 'b', 'counter', 'lib', 'snippet', 'content']),
      (reading, sources, payers) => {
        const pack = new PredictionPack([{ id: 1, groups: groupsOf(reading, sources) }], { needs: {}, libraries: [] })
        expect([...pack.spared(new Map())]).toEqual(MEASURES.map(() => 0))
        let before = pack.spared(new Map())
        payers.forEach((_, n) => {
          const now = pack.spared(new Map(payers.slice(0, n + 1).map((payer) => [payer, 'skip' as const])))
          for (const measure of ['requests', 'transferBytes', 'mainThreadMs'] as const) {
            const at = MEASURES.indexOf(measure)
            expect(now[at]! + 1e-6).toBeGreaterThanOrEqual(before[at]!)
          }
          before = now
        })
      },
    ),
  )
})
