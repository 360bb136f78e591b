import type { Place, Rule } from '@unvelt/core'
import type { WeighedVariant } from '@unvelt/contract'
import { mergeRules } from '../rule/merge-rules.js'
import type { Variant } from '../sweep/sweep.model.js'

/** What is known of the site for which variants are planned. */
export interface VariantSite {
  live: readonly Rule[]
  paths: string[]
  /** Whether pages can be made as if an add-on was not installed, or was another version. */
  triesAddOns: boolean
  /** A copy's path is in no rule that is live, so all that hold are carried over to it. */
  onCopies: boolean
  /** Whether the site can leave this add-on unrun; the rest of it goes by the page's tags. */
  canSkip(slug: string): boolean
}

/** Slugs of all that variants differ in. */
export const addOnsOf = (variants: readonly WeighedVariant[]): string[] => [
  ...new Set(
    variants.flatMap(({ without = [], versions = [], featuresOff = [], settings = [] }) => [
      ...without,
      ...[...versions, ...featuresOff, ...settings].map(({ addon }) => addon),
    ]),
  ),
]

/** The variants as a sweep reads them: each under its rules, with its add-ons in their place. */
export function planVariants(variants: readonly WeighedVariant[], site: VariantSite): Variant[] {
  return variants.map((variant, n) => {
    const name = `variant-${n}` as const
    const rules = rulesOf(variant, site)
    const addOns = site.triesAddOns ? onTrial(variant) : {}
    if (!site.onCopies && rules.length === 0 && Object.keys(addOns).length === 0) return { name, rules: 'live' }
    return { name, rules: 'live', drafts: { rules: mergeRules(site.live, rules), addOns } }
  })
}

const onTrial = ({ without = [], versions = [] }: WeighedVariant): Record<string, string | null> => ({
  ...Object.fromEntries(without.map((slug) => [slug, null])),
  ...Object.fromEntries(versions.map(({ addon, version }) => [addon, version])),
})

function rulesOf({ without = [], featuresOff = [], settings = [] }: WeighedVariant, site: VariantSite): Rule[] {
  const place: Place = { level: 'set', paths: site.paths }
  const targets: Omit<Rule, 'id' | 'place'>[] = [
    ...(site.triesAddOns
      ? []
      : without.map((addon) => ({ addon, effect: site.canSkip(addon) ? ('skip' as const) : ('leave-out' as const) }))),
    ...featuresOff.map(({ addon, feature }) => ({ addon, feature, effect: 'skip' as const })),
    ...settings.map(({ addon, setting, value }) => ({ addon, setting, value, effect: 'set' as const })),
  ]
  return targets.map((target, n) => ({ id: `weighed-${n + 1}`, place, ...target }))
}
