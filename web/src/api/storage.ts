import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Storage, WouldGo } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

export const useStorage = (site: number) =>
  useQuery({ queryKey: keys.storage(site), queryFn: () => call<Storage>('GET', `/sites/${site}/storage`) })

export function useDeleteSweep(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => call<Storage>('DELETE', `/sweeps/${id}`),
    onSuccess: (storage) => {
      client.setQueryData(keys.storage(site), storage)
      // Whatever was told by it is told by others now.
      return client.invalidateQueries({ queryKey: keys.site(site) })
    },
  })
}

export function useDeleteSite(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (name: string) => call<null>('DELETE', `/sites/${site}`, { name }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.sites }),
  })
}

/** What would go if only so many sweeps a lens were kept in full. */
export const useWouldGo = (site: number, keepFull: number | null) =>
  useQuery({
    queryKey: [...keys.storage(site), 'would-go', keepFull],
    queryFn: () =>
      call<WouldGo>('GET', `/sites/${site}/storage/would-go${keepFull === null ? '' : `?keepFull=${keepFull}`}`),
  })

export function useKeepFull(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (keepFull: number | null) => call<Storage>('PUT', `/sites/${site}/storage/keep-full`, { keepFull }),
    onSuccess: (storage) => {
      client.setQueryData(keys.storage(site), storage)
      return client.invalidateQueries({ queryKey: keys.site(site) })
    },
  })
}
