import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Shelf, WeighIn, WeighInRequest, WeighInSummary } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

export const useWeighIns = (site: number) =>
  useQuery({ queryKey: keys.weighIns(site), queryFn: () => call<WeighInSummary[]>('GET', `/sites/${site}/weigh-ins`) })

export const useWeighIn = (site: number, id: number) =>
  useQuery({ queryKey: [...keys.weighIns(site), id], queryFn: () => call<WeighIn>('GET', `/weigh-ins/${id}`) })

/** What was weighed of an add-on on any site of this Unvelt. */
export const useWeighedOf = (site: number, slug: string) =>
  useQuery({
    queryKey: [...keys.weighIns(site), 'of', slug],
    queryFn: () => call<WeighInSummary[]>('GET', `/weigh-ins/of/${encodeURIComponent(slug)}`),
  })

/** Asked of the site itself. */
export const useShelf = (site: number) =>
  useQuery({
    queryKey: [...keys.weighIns(site), 'shelf'],
    queryFn: () => call<Shelf>('GET', `/sites/${site}/shelf`),
    staleTime: 60_000,
    retry: false,
  })

export function useWeigh(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: WeighInRequest) => call<WeighIn>('POST', `/sites/${site}/weigh-ins`, wish),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.weighIns(site) }),
  })
}

export function useForgetWeighIn(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => call<void>('DELETE', `/weigh-ins/${id}`),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.weighIns(site) }),
  })
}
