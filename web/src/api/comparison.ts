import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query'
import type { Comparison, Site, Sweep } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** Two sweeps side by side; while others are chosen the last ones stay to be seen. */
export const useComparison = (site: number, query: string, isAsked: boolean) =>
  useQuery({
    queryKey: [...keys.ledger(site), 'comparison', query],
    queryFn: () => call<Comparison>('GET', `/sites/${site}/comparison?${query}`),
    enabled: isAsked,
    placeholderData: keepPreviousData,
  })

/** The surveys of every site that have read something, the newest first. */
export const useSurveys = (sites: readonly Site[]) =>
  useQueries({
    queries: sites.map(({ id }) => ({
      queryKey: keys.sweeps(id),
      queryFn: () => call<Sweep[]>('GET', `/sites/${id}/sweeps`),
    })),
    combine: (results) => ({
      isPending: results.some(({ isPending }) => isPending),
      surveys: sites.map((site, n) => ({
        site,
        sweeps: (results[n]!.data ?? []).filter(
          ({ purpose, readings, readingsFailed }) => purpose === 'survey' && readings > readingsFailed,
        ),
      })),
    }),
  })
