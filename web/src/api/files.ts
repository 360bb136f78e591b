import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { FileLookView } from '@unvelt/contract'
import { call } from './client.js'

const LOOK_AGAIN_MS = 1_000
const keyOf = (site: number, page: number) => ['site', site, 'files', page] as const
const pathOf = (site: number, page: number) => `/sites/${site}/pages/${page}/files`

/** What the scripts and styles of a page could weigh, followed while they are looked at. */
export const useFiles = (site: number, page: number) =>
  useQuery({
    queryKey: keyOf(site, page),
    queryFn: () => call<FileLookView>('GET', pathOf(site, page)),
    refetchInterval: ({ state }) => (state.data?.newest?.underWay ? LOOK_AGAIN_MS : false),
  })

export function useWeighFiles(site: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => call<FileLookView>('POST', pathOf(site, page)),
    onSuccess: (view) => client.setQueryData(keyOf(site, page), view),
  })
}
