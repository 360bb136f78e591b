import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { MadeCopyView, NowhereRules, NowhereView } from '@unvelt/contract'
import { call } from './client.js'

const LOOK_AGAIN_MS = 1_000
const keyOf = (site: number) => ['site', site, 'nowhere'] as const
const pathOf = (site: number) => `/sites/${site}/nowhere`

/** What of the site's stylesheets is used nowhere, followed while they are looked through. */
export const useNowhere = (site: number) =>
  useQuery({
    queryKey: keyOf(site),
    queryFn: () => call<NowhereView>('GET', pathOf(site)),
    refetchInterval: ({ state }) => (state.data?.underWay ? LOOK_AGAIN_MS : false),
  })

/** Looks the stylesheets through, or stops. */
export function useLookThrough(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: 'look' | 'stop') => call<NowhereView>(act === 'look' ? 'POST' : 'DELETE', pathOf(site)),
    onSuccess: (view) => client.setQueryData(keyOf(site), view),
  })
}

export const nowhereRules = (site: number, n: number) => call<NowhereRules>('GET', `${pathOf(site)}/files/${n}`)

/** The rules of one of the stylesheets, as it was looked through at a moment. */
export const useNowhereRules = (site: number, n: number, takenAt: string | null) =>
  useQuery({ queryKey: [...keyOf(site), n, takenAt], queryFn: () => nowhereRules(site, n) })

/** Has a cleaned file kept, so that a rule can name it. */
export const useMakeCopy = (site: number) =>
  useMutation({ mutationFn: (n: number) => call<MadeCopyView>('POST', `${pathOf(site)}/files/${n}/copy`) })
