// What a selection of the ledger would spare: summed from the groups of 2,000 pages with 300 add-ons, beside predicting it from
// the readings themselves.
import {
  attribute,
  basisOf,
  MEASURES,
  median,
  NO_SOURCES,
  pageGroups,
  predict,
  PredictionPack,
  saidBy,
  seeded,
  sumTolls,
  type AttributionSources,
  type Dependencies,
  type Measure,
  type PredictedEffect,
  type Reading,
} from '@unvelt/core'
import { madeUpReading } from './lib/made-up-reading.js'

const ADD_ONS = 300
const PAGES = 2_000
/** Pages that are read anew for the baseline; its time for all is that many times as long. */
const PREDICTED = 40
const ROUNDS = 9

const random = seeded(20261128)
const addOns = Array.from({ length: ADD_ONS }, (_, n) => `add-on-${n}`)
const ORIGIN = 'https://site.test'
const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: ['site.test'],
  prefixes: addOns.map((addon) => ({ prefix: `/add-ons/${addon}/`, addon })),
}
const dependencies: Dependencies = {
  needs: Object.fromEntries(addOns.slice(0, 100).map((addon, n) => [addon, [addOns[290 + (n % 10)]!]])),
  libraries: addOns.slice(290),
}
const FIRST = Object.fromEntries(MEASURES.map((measure) => [measure, 0])) as Record<Measure, number>

const kept: { reading: Reading; attribution: ReturnType<typeof attribute> }[] = []
let groups = 0
const began = performance.now()
const pages = Array.from({ length: PAGES }, (_, id) => {
  const reading = madeUpReading(`${ORIGIN}/${id}`, addOns, random)
  const attribution = attribute(reading, sources)
  if (id < PREDICTED) kept.push({ reading, attribution })
  const page = pageGroups([basisOf(reading, attribution)], FIRST)
  groups += page.groups.when.length
  return { id, groups: page }
})
console.log(`${PAGES} pages worked out into ${groups} groups in ${((performance.now() - began) / 1000).toFixed(1)} s`)
const pack = new PredictionPack(pages, dependencies)

const fast: number[] = []
const half: number[] = []
const slow: number[] = []
for (let round = -1; round < ROUNDS; round++) {
  const unloads = new Map(
    addOns
      .filter(() => random() < 0.5)
      .map((addon) => [addon, random() < 0.5 ? ('skip' as const) : ('leave-out' as const)]),
  )
  let start = performance.now()
  const summed = pack.spared(unloads)
  if (round >= 0) fast.push(performance.now() - start)
  const some = new Set(pack.pageIds.filter(() => random() < 0.5))
  start = performance.now()
  pack.spared(unloads, some)
  if (round >= 0) half.push(performance.now() - start)
  start = performance.now()
  const expected = kept.map(({ reading, attribution }) =>
    sumTolls(predict(reading, attribution, unloads, dependencies).saved),
  )
  if (round >= 0) slow.push(((performance.now() - start) * PAGES) / PREDICTED)
  const same = pack.spared(unloads, new Set(kept.keys()))
  MEASURES.forEach((measure, n) => {
    const should = expected.reduce((sum, toll) => sum + toll[measure], 0)
    if (Math.abs(same[n]! - should) > 1e-6 * Math.max(1, should))
      throw new Error(`${measure}: ${same[n]} is not ${should}`)
  })
  if (summed[0] === 0) throw new Error('nothing was summed')
}
/** Three add-ons wait, of ten a single file has another turn, and one goes: what broad drafts may say. */
const later: number[] = []
const laterSlow: number[] = []
for (let round = -1; round < ROUNDS; round++) {
  const at = (n: number) => addOns[(7 * n + 31 * (round + 1)) % 280]!
  const effects: PredictedEffect[] = [
    ...[0, 1, 2].map((n) => ({ addon: at(n), effect: 'hold' as const })),
    ...Array.from({ length: 10 }, (_, n): PredictedEffect => {
      const addon = at(n + 3)
      return { addon, effect: 'order', order: 'end', file: `/add-ons/${addon}/main.js` }
    }),
    { addon: at(13), effect: 'leave-out' },
  ]
  let start = performance.now()
  const said = saidBy(effects)
  pack.predict(said, new Set(pack.pageIds))
  if (round >= 0) later.push(performance.now() - start)
  start = performance.now()
  const expected = kept.map(({ reading, attribution }) => predict(reading, attribution, effects, dependencies))
  if (round >= 0) laterSlow.push(((performance.now() - start) * PAGES) / PREDICTED)
  pack.predict(said, new Set(kept.keys()), (id, saved, postponed) =>
    MEASURES.forEach((measure, n) => {
      for (const [is, should] of [
        [saved[n]!, sumTolls(expected[id]!.saved)[measure]],
        [postponed[n]!, sumTolls(expected[id]!.postponed)[measure]],
      ] as const)
        if (Math.abs(is - should) > 1e-6 * Math.max(1, should)) throw new Error(`${measure}: ${is} is not ${should}`)
    }),
  )
}
const middle = median(fast)
console.log(
  `any selection over ${PAGES} pages: median ${middle.toFixed(1)} ms, the slowest ${Math.max(...fast).toFixed(1)} ms (goal 50); over half of them, picked at random, ${median(half).toFixed(1)} ms; from the readings ${(median(slow) / 1000).toFixed(1)} s, by ${PREDICTED} of them`,
)
console.log(
  `what waits and single files, over all pages one by one: median ${median(later).toFixed(1)} ms; from the readings ${(median(laterSlow) / 1000).toFixed(1)} s; ratio ${(median(laterSlow) / median(later)).toFixed(0)}`,
)
console.log(`predict ratio=${(median(slow) / middle).toFixed(0)} goal=1000`)
