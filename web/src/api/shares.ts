import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ProofShares, ShareOffer, ShareRequest } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

const sharesOf = (site: number, proof: number) => [...keys.proofs(site), proof, 'shares'] as const

/** What of a proof can be shared out among its changes, and what was. */
export const useShares = (site: number, proof: number) =>
  useQuery({ queryKey: sharesOf(site, proof), queryFn: () => call<ShareOffer>('GET', `/proofs/${proof}/shares`) })

export function useFindShares(site: number, proof: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (request: ShareRequest) => call<ProofShares>('POST', `/proofs/${proof}/shares`, request),
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: sharesOf(site, proof) }),
        client.invalidateQueries({ queryKey: keys.sweeps(site) }),
      ]),
  })
}
