import type { AddOn, ShelvedAddOn, WeighedVariant } from '@unvelt/contract'

/** One thing in which a variant differs from the page as it is. */
export type Change =
  | { kind: 'without'; addon: string }
  | { kind: 'version'; addon: string; version: string }
  | { kind: 'feature'; addon: string; feature: string }
  | { kind: 'setting'; addon: string; setting: string; value: number }

export interface VariantDraft {
  key: number
  /** Empty as long as it is called by what it changes. */
  name: string
  changes: Change[]
  /** A year, as it is typed. */
  price: string
}

/** What changes are about, by name. */
export interface Names {
  addOns: readonly AddOn[]
  shelf: readonly ShelvedAddOn[]
}

const nameOf = (slug: string, { addOns, shelf }: Names): string =>
  addOns.find((addOn) => addOn.slug === slug)?.name ?? shelf.find((one) => one.slug === slug)?.name ?? slug

export function changeWords(change: Change, names: Names): string {
  const name = nameOf(change.addon, names)
  const addOn = names.addOns.find(({ slug }) => slug === change.addon)
  switch (change.kind) {
    case 'without':
      return `without ${name}`
    case 'version':
      return `${name} ${change.version}`
    case 'feature':
      return `${name} without ${addOn?.features.find(({ slug }) => slug === change.feature)?.name ?? change.feature}`
    case 'setting':
      return `${addOn?.settings.find(({ slug }) => slug === change.setting)?.name ?? change.setting}: ${change.value}`
  }
}

/** What a variant is called unless somebody calls it otherwise. */
export function variantName({ name, changes }: VariantDraft, names: Names): string {
  if (name.trim() !== '') return name.trim()
  if (changes.length === 0) return 'As it is'
  const words = changes.map((change) => changeWords(change, names)).join(', ')
  return (words[0]!.toUpperCase() + words.slice(1)).slice(0, 100)
}

export function variantOf(draft: VariantDraft, names: Names): WeighedVariant {
  const of = <K extends Change['kind']>(kind: K) =>
    draft.changes.filter((change): change is Extract<Change, { kind: K }> => change.kind === kind)
  const price = Number(draft.price)
  return {
    name: variantName(draft, names),
    without: of('without').map(({ addon }) => addon),
    versions: of('version').map(({ addon, version }) => ({ addon, version })),
    featuresOff: of('feature').map(({ addon, feature }) => ({ addon, feature })),
    settings: of('setting').map(({ addon, setting, value }) => ({ addon, setting, value })),
    ...(draft.price.trim() !== '' && Number.isFinite(price) && price >= 0 && { price }),
  }
}

const fresh = (key: number, ...changes: Change[]): VariantDraft => ({ key, name: '', changes, price: '' })

/** What one begins with: as it is; and where somebody comes from an add-on, without it, and in its other versions. */
export function firstVariants(slug: string | null, shelf: readonly ShelvedAddOn[], most: number): VariantDraft[] {
  if (slug === null) return [fresh(1), fresh(2)]
  const versions = shelf.filter((one) => one.slug === slug && one.installed !== null)
  const changes: Change[] = [
    { kind: 'without', addon: slug },
    ...versions.map(({ version }): Change => ({ kind: 'version', addon: slug, version })),
  ]
  return [fresh(1), ...changes.slice(0, most - 1).map((change, n) => fresh(n + 2, change))]
}

/** Whole numbers as people write them in a row, each once, in their order; null where something else is among them. */
export function rowOfValues(text: string, least: number, most: number): number[] | null {
  const parts = text.split(/[\s,;]+/).filter(Boolean)
  const values = parts.map(Number)
  if (values.some((value) => !Number.isInteger(value) || value < least || value > most)) return null
  return [...new Set(values)].sort((a, b) => a - b)
}

/** The setting in whose value alone variants differ, and the values; null where they differ in anything else. */
export function settingRow(variants: readonly WeighedVariant[]): { setting: string; values: number[] } | null {
  const rows = variants.map(({ without = [], versions = [], featuresOff = [], settings = [] }) =>
    without.length + versions.length + featuresOff.length === 0 && settings.length === 1 ? settings[0]! : null,
  )
  const first = rows[0]
  if (!first || rows.some((row) => row?.setting !== first.setting || row.addon !== first.addon)) return null
  return { setting: first.setting, values: rows.map((row) => row!.value) }
}
