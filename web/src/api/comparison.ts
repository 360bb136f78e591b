import { keepPreviousData, useQuery } from '@tanstack/react-query'
import type { Comparison } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** Two sweeps side by side; while others are chosen the last ones stay to be seen. */
export const useComparison = (site: number, query: string | null) =>
  useQuery({
    queryKey: [...keys.ledger(site), 'comparison', query],
    queryFn: () => call<Comparison>('GET', `/sites/${site}/comparison?${query!}`),
    enabled: query !== null,
    placeholderData: keepPreviousData,
  })
