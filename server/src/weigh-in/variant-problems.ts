import type { ShelvedAddOn, WeighedVariant } from '@unvelt/contract'
import type { AddOnRow } from '../add-on/add-on.model.js'

interface Known {
  addOns: readonly Pick<AddOnRow, 'slug' | 'features' | 'settings'>[]
  shelf: readonly Pick<ShelvedAddOn, 'slug' | 'version'>[]
  triesAddOns: boolean
  /** Whether the site can give a setting another value on some pages. */
  setsValues: boolean
}

interface FieldProblem {
  field: string
  message: string
}

/** What can't be weighed, each with its place in the request. */
export function variantProblems(variants: readonly WeighedVariant[], known: Known): FieldProblem[] {
  return [...variants.flatMap((variant, n) => problemsOf(variant, `variants/${n}`, known)), ...alike(variants)]
}

function problemsOf(variant: WeighedVariant, at: string, { addOns, shelf, ...site }: Known): FieldProblem[] {
  const find = (slug: string) => addOns.find((row) => row.slug === slug)
  const { without = [], versions = [], featuresOff = [], settings = [] } = variant
  const problems: FieldProblem[] = []
  const say = (field: string, message: string) => problems.push({ field: `${at}/${field}`, message })
  without.forEach((slug, n) => {
    if (!find(slug)) say(`without/${n}`, `The site has no add-on ${slug}.`)
  })
  versions.forEach(({ addon, version }, n) => {
    if (!site.triesAddOns) say(`versions/${n}`, 'This site’s connector can’t try what is not installed.')
    else if (!shelf.some((one) => one.slug === addon && one.version === version))
      say(`versions/${n}`, `The site’s shelf has no ${addon} ${version}.`)
    else if (without.includes(addon)) say(`versions/${n}`, `${addon} can’t be there and not be there.`)
  })
  featuresOff.forEach(({ addon, feature }, n) => {
    if (!find(addon)?.features.some(({ slug }) => slug === feature))
      say(`featuresOff/${n}`, `There is no feature ${feature} of ${addon}.`)
  })
  settings.forEach(({ addon, setting, value }, n) => {
    const found = find(addon)?.settings.find(({ slug }) => slug === setting)
    if (!site.setsValues || !found?.perPage)
      say(`settings/${n}`, `No page can have a ${setting} of ${addon} of its own.`)
    else if (value < found.least || value > found.most)
      say(`settings/${n}/value`, `${found.name}: expected ${found.least} to ${found.most}.`)
  })
  return problems
}

/** Two that are the same show only noise. */
function alike(variants: readonly WeighedVariant[]): FieldProblem[] {
  const seen = new Map<string, string>()
  const names = new Set<string>()
  return variants.flatMap(({ name, price: _, ...what }, n) => {
    const key = JSON.stringify([what.without ?? [], what.versions ?? [], what.featuresOff ?? [], what.settings ?? []])
    const same = seen.get(key)
    seen.set(key, name)
    if (names.has(name)) return [{ field: `variants/${n}/name`, message: `Two variants are called ${name}.` }]
    names.add(name)
    return same === undefined ? [] : [{ field: `variants/${n}`, message: `${name} is the same as ${same}.` }]
  })
}
