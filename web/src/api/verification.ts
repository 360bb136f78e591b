import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Verification } from '@unvelt/contract'
import { call } from './client.js'
import { draftsChanged, keys } from './queries.js'

const LOOK_AGAIN_MS = 1500
const keyOf = (site: number) => [...keys.rules(site), 'verification'] as const
const isUnderWay = (data: Verification | undefined) => data !== undefined && data.pagesDone < data.pages

/** Whether rules hold at a site that they were handed out to; it is looked at again while pages are being read. */
export const useVerification = (site: number) =>
  useQuery({
    queryKey: keyOf(site),
    queryFn: () => call<Verification>('GET', `/sites/${site}/verification`),
    refetchInterval: ({ state }) => (isUnderWay(state.data) ? LOOK_AGAIN_MS : false),
  })

/** Begins to look, stops, or counts as live what holds. */
export function useVerify(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: 'begin' | 'stop' | 'adopt') =>
      act === 'adopt'
        ? call<Verification>('POST', `/sites/${site}/verification/adopt`)
        : call<Verification>(act === 'begin' ? 'POST' : 'DELETE', `/sites/${site}/verification`),
    onSuccess: async (verification, act) => {
      client.setQueryData(keyOf(site), verification)
      if (act !== 'adopt') return
      await client.invalidateQueries({ queryKey: keys.site(site) })
      await draftsChanged(client, site)
    },
  })
}
