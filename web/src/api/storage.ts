import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Storage } from '@unvelt/contract'
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
