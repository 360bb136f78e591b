import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { RestoreRequest, SiteRestore, SiteSnapshots, SnapshotInside } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** Below the retirements', since what is put back changes both. */
const at = (site: number) => [...keys.retirements(site), 'snapshots']

/** Asked of the site itself, which may take a while. */
export const useSnapshots = (site: number) =>
  useQuery({
    queryKey: at(site),
    queryFn: () => call<SiteSnapshots>('GET', `/sites/${site}/snapshots`),
    retry: false,
  })

export const useSnapshotInside = (site: number, id: number) =>
  useQuery({
    queryKey: [...at(site), id],
    queryFn: () => call<SnapshotInside>('GET', `/sites/${site}/snapshots/${id}`),
    retry: false,
  })

export function useRestore(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, ...wish }: RestoreRequest & { id: number }) =>
      call<SiteRestore>('POST', `/sites/${site}/snapshots/${id}/restore`, wish),
    onSuccess: () => client.invalidateQueries({ queryKey: at(site) }),
  })
}
