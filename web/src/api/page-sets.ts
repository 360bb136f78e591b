import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { PageSet, PageSetChanged, PageSetInput } from '@unvelt/contract'
import { call } from './client.js'
import { draftsChanged, keys } from './queries.js'

export const usePageSets = (site: number) =>
  useQuery({ queryKey: keys.pageSets(site), queryFn: () => call<PageSet[]>('GET', `/sites/${site}/page-sets`) })

/** Gives pages a name together; gives the sets as they are then. */
export function useAddPageSet(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (input: PageSetInput) => call<PageSet[]>('POST', `/sites/${site}/page-sets`, input),
    onSuccess: (sets) => client.setQueryData(keys.pageSets(site), sets),
  })
}

export function useChangePageSet(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, ...input }: PageSetInput & { id: number }) =>
      call<PageSetChanged>('PUT', `/sites/${site}/page-sets/${id}`, input),
    onSuccess: ({ sets }) => {
      client.setQueryData(keys.pageSets(site), sets)
      // Drafts follow the set.
      void client.invalidateQueries({ queryKey: keys.drafts(site), exact: true })
      return draftsChanged(client, site)
    },
  })
}

export function useRemovePageSet(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => call<PageSet[]>('DELETE', `/sites/${site}/page-sets/${id}`),
    onSuccess: (sets) => client.setQueryData(keys.pageSets(site), sets),
  })
}
