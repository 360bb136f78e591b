// Deciding what holds on a page: from the index by place, beside going through all rules for each page.
import {
  lint,
  median,
  PLAIN_VISIT,
  resolve,
  rulesByScan,
  seeded,
  type Place,
  type Rule,
  type RulePage,
} from '@unvelt/core'

const RULES = 10_000
const ADD_ONS = 300
const PAGES = 100_000
/** Pages for the scan, which takes a while over each. */
const SCANNED = 60
const ROUNDS = 5

const random = seeded(7)
const below = (n: number) => Math.floor(random() * n)
const SECTIONS = Array.from({ length: 400 }, (_, n) => `section-${n}`)
const KINDS = ['front', 'article', 'listing', 'search', 'basket', 'office']
const pages: RulePage[] = Array.from({ length: PAGES }, (_, n) => ({
  path: `/${SECTIONS[n % SECTIONS.length]}/page-${n}`,
  kind: KINDS[n % KINDS.length]!,
  area: n % 20 === 0 ? 'office' : 'public',
}))
function place(n: number): Place {
  const of = n % 10
  if (of < 5) return { level: 'page', path: pages[below(PAGES)]!.path }
  if (of < 7)
    return { level: 'path', pattern: n % 3 === 0 ? `/${SECTIONS[below(400)]}/:page` : `/${SECTIONS[below(400)]}/*` }
  if (of === 7) return { level: 'set', paths: Array.from({ length: 20 }, () => pages[below(PAGES)]!.path) }
  if (of === 8) return { level: 'kind', kind: KINDS[below(KINDS.length)]! }
  return n % 20 === 9 ? { level: 'area', area: 'public' } : { level: 'page', path: pages[below(PAGES)]!.path }
}
const rules: Rule[] = Array.from({ length: RULES }, (_, n) => ({
  id: `r${n}`,
  addon: `add-on-${below(ADD_ONS)}`,
  effect: n % 7 === 0 ? 'keep' : 'skip',
  place: place(n),
  ...(n % 11 === 0 && { condition: { device: 'handset' as const } }),
}))

const resolved: number[] = []
const scanned: number[] = []
resolve(rules, pages[0]!, PLAIN_VISIT)
for (let round = 0; round < ROUNDS; round++) {
  let decisions = 0
  let began = performance.now()
  let effects = 0
  for (const page of pages) {
    effects += resolve(rules, page, PLAIN_VISIT).length
    // Of every add-on it is then known what holds: what is not in the list loads as it always does.
    decisions += ADD_ONS
  }
  if (round === 0) console.log(`${(effects / PAGES).toFixed(1)} effects on a page`)
  resolved.push((decisions / (performance.now() - began)) * 1000)
  began = performance.now()
  for (let n = 0; n < SCANNED; n++) {
    const page = pages[(n * 1_667) % PAGES]!
    const naive = resolve(rulesByScan(rules, page, PLAIN_VISIT), page, PLAIN_VISIT)
    if (round === 0 && JSON.stringify(naive) !== JSON.stringify(resolve(rules, page, PLAIN_VISIT)))
      throw new Error(`not the same on ${page.path}`)
  }
  scanned.push(((SCANNED * ADD_ONS) / (performance.now() - began)) * 1000)
}
console.log(
  `decisions a second: ${Math.round(median(resolved)).toLocaleString('en')} from the index (goal 1,000,000), ${Math.round(median(scanned)).toLocaleString('en')} by going through all rules`,
)
const needs = Object.fromEntries(Array.from({ length: 50 }, (_, n) => [`add-on-${n}`, [`add-on-${n + 100}`]]))
for (const count of [2_000, PAGES]) {
  const times: number[] = []
  let findings = 0
  for (let round = 0; round < 3; round++) {
    const began = performance.now()
    // Another list each time, or what is known of it already would be used again.
    findings = lint([...rules], { pages: pages.slice(0, count), needs }).length
    times.push(performance.now() - began)
  }
  console.log(
    `what is wrong with ${RULES.toLocaleString('en')} rules on ${count.toLocaleString('en')} pages: ${findings} findings in ${(median(times) / 1000).toFixed(2)} s (goal 1)`,
  )
}
console.log(`resolve ratio=${(median(resolved) / median(scanned)).toFixed(0)} goal=1`)
