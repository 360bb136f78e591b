import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { PutOff, PutOffRequest, PutTimes } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

const LOOK_AGAIN_MS = 30_000

/** When changes may go live, and what waits for its hour. */
export const usePutTimes = (site: number, wanted: boolean) =>
  useQuery({
    queryKey: [...keys.deployments(site), 'put-times'],
    queryFn: () => call<PutTimes>('GET', `/sites/${site}/put-times`),
    refetchInterval: LOOK_AGAIN_MS,
    enabled: wanted,
  })

export function usePutOff(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (request: PutOffRequest) => call<PutOff>('POST', `/sites/${site}/rules/put-off`, request),
    onSettled: () => client.invalidateQueries({ queryKey: keys.deployments(site) }),
  })
}

export function useWithdrawPutOff(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => call<PutOff>('DELETE', `/put-offs/${id}`),
    onSettled: () => client.invalidateQueries({ queryKey: keys.deployments(site) }),
  })
}
