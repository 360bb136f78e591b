import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ConsentCost, ConsentRequest } from '@unvelt/contract'
import { call } from './client.js'

const LOOK_AGAIN_MS = 1500
const keyOf = (site: number) => ['site', site, 'consent']

/** What consent costs on a page of the site, as it was looked at last; asked again while it is being looked at. */
export const useConsent = (site: number) =>
  useQuery({
    queryKey: keyOf(site),
    queryFn: () => call<ConsentCost>('GET', `/sites/${site}/consent`),
    refetchInterval: ({ state }) => (state.data?.state === 'waiting' ? LOOK_AGAIN_MS : false),
  })

export function useLookForConsent(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: ConsentRequest) => call<ConsentCost>('POST', `/sites/${site}/consent`, wish),
    onSuccess: (cost) => client.setQueryData(keyOf(site), cost),
  })
}
