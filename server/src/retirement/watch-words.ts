import { wordsOf } from '@unvelt/core'
import type { RetirementRow } from './retirement.model.js'

/** By which words visitors would look for what went: those that somebody wrote down, or those of its name and its parts. */
export function watchWordsOf(
  { watchWords, name, features }: Pick<RetirementRow, 'watchWords' | 'name' | 'features'>,
  addOn: { name: string; features: readonly { slug: string; name: string }[] } | null | undefined,
): string[] {
  if (watchWords) return watchWords
  if (!features) return wordsOf([addOn?.name ?? name])
  return wordsOf((addOn?.features ?? []).filter(({ slug }) => features.includes(slug)).map((feature) => feature.name))
}
