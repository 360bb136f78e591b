import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Stale, Sweep } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** Which figures of a sweep hold no longer. */
export const useStale = (site: number, sweep: number | undefined) =>
  useQuery({
    queryKey: [...keys.site(site), 'stale', sweep],
    queryFn: () => call<Stale>('GET', `/sweeps/${sweep}/stale`),
    enabled: sweep !== undefined,
  })

/** Reads again what is stale, all of it or some pages. */
export function useReadStaleAgain(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ sweep, pageIds }: { sweep: number; pageIds?: number[] }) =>
      call<Sweep>('POST', `/sweeps/${sweep}/stale/read-again`, { pageIds }),
    onSuccess: (begun) =>
      client.setQueryData<Sweep[]>(keys.sweeps(site), (old = []) => [
        begun,
        ...old.filter(({ id }) => id !== begun.id),
      ]),
    onSettled: () => client.invalidateQueries({ queryKey: keys.sweeps(site) }),
  })
}
