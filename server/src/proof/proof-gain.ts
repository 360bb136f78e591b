import type { ProofGain, ProofPage } from '@unvelt/contract'

/** What a proof comes to: each measure's differences in the mean of the pages that have one, and how many words speak for and against. */
export function proofGain(pages: readonly ProofPage[]): ProofGain {
  const differences = new Map<string, number[]>()
  const words: string[] = []
  const sure = new Set<string>()
  for (const [measure, { difference, word }] of pages.flatMap(({ figures }) => Object.entries(figures))) {
    words.push(word)
    if (word === 'better' || word === 'worse') sure.add(measure)
    if (difference !== null) differences.set(measure, [...(differences.get(measure) ?? []), difference])
  }
  return {
    pages: pages.length,
    differences: Object.fromEntries(
      [...differences].map(([measure, all]) => [measure, all.reduce((sum, one) => sum + one, 0) / all.length]),
    ),
    sure: [...sure],
    better: words.filter((word) => word === 'better').length,
    worse: words.filter((word) => word === 'worse').length,
  }
}
