import { useQueries } from '@tanstack/react-query'
import type { RuleSaving } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'

/** So many rules are asked about at once. */
const AT_ONCE = 25

/** What the rules that are looked at spare; those next to them are asked about with them. */
export function useSavings(site: number, ids: readonly string[], from: number, to: number): Map<string, RuleSaving> {
  const first = Math.floor(from / AT_ONCE)
  const chunks = Array.from({ length: Math.max(0, Math.floor(to / AT_ONCE) - first + 1) }, (_, n) =>
    ids.slice((first + n) * AT_ONCE, (first + n + 1) * AT_ONCE),
  )
    .map((chunk) => chunk.filter((id) => id !== ''))
    .filter(({ length }) => length > 0)
  return useQueries({
    queries: chunks.map((chunk) => ({
      // Below the ledger's, since a new sweep may tell more, and drafts change what there is to tell.
      queryKey: [...keys.ledger(site), 'rule-savings', chunk],
      queryFn: () => call<RuleSaving[]>('POST', `/sites/${site}/rules/savings`, { ids: chunk }),
      staleTime: 60_000,
    })),
    combine: (answers) =>
      new Map(answers.flatMap(({ data = [] }) => data.map((saving) => [saving.id, saving] as const))),
  })
}
