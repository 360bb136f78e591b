import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { FileLookView, SiteFiles } from '@unvelt/contract'
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

const allOf = (site: number) => ['site', site, 'files'] as const

/** What the scripts and styles of all pages could weigh, followed while they are weighed. */
export const useSiteFiles = (site: number) =>
  useQuery({
    queryKey: allOf(site),
    queryFn: () => call<SiteFiles>('GET', `/sites/${site}/files`),
    refetchInterval: ({ state }) => ((state.data?.waiting ?? 0) > 0 ? LOOK_AGAIN_MS : false),
  })

/** Weighs what is left, or stops. */
export function useWeighAllFiles(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: 'weigh' | 'stop') => call<SiteFiles>(act === 'weigh' ? 'POST' : 'DELETE', `/sites/${site}/files`),
    onSuccess: (view) => client.setQueryData(allOf(site), view),
  })
}
