// The shortest rules for a selection of 300 add-ons on 2,000 pages, beside listing the pages of each.
import { median, seeded, shortestRules, type RulePage } from '@unvelt/core'

const ADD_ONS = 300
const PAGES = 2_000
const KINDS = 24
const ROUNDS = 15

const random = seeded(11)
const pages: RulePage[] = Array.from({ length: PAGES }, (_, n) => ({
  path: `/section-${n % 40}/page-${n}`,
  kind: `kind-${n % KINDS}`,
  area: n % KINDS === 0 ? 'office' : 'public',
}))
/** Each add-on on some kinds whole, with some pages more and some less. */
const selections = Array.from({ length: ADD_ONS }, () => {
  const kinds = new Set(Array.from({ length: KINDS }, (_, n) => n).filter(() => random() < 0.4))
  return pages.map((_, n) => kinds.has(n % KINDS) !== random() < 0.02)
})

const shortest: number[] = []
const plain: number[] = []
const one: number[] = []
let rules = 0
for (let round = -2; round < ROUNDS; round++) {
  let began = performance.now()
  const listed = selections.map((selected) => pages.filter((_, n) => selected[n]).map(({ path }) => path))
  const plainMs = performance.now() - began
  began = performance.now()
  rules = selections.reduce((sum, selected) => sum + shortestRules(pages, (n) => selected[n]!).rules.length, 0)
  const ms = performance.now() - began
  began = performance.now()
  shortestRules(pages, (n) => n !== 7)
  const oneMs = performance.now() - began
  if (round < 0 || listed.length === 0) continue
  shortest.push(ms)
  plain.push(plainMs)
  one.push(oneMs)
}
console.log(
  `${rules} rules for ${ADD_ONS} add-ons, each on pages of its own: ${median(shortest).toFixed(1)} ms (goal 100)`,
)
console.log(`a rectangle, where all are on the same pages: ${median(one).toFixed(2)} ms`)
console.log(`shortest ratio=${(median(shortest) / median(plain)).toFixed(2)} goal=none`)
