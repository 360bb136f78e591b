import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { CauseRequest, CauseSearch, PageComplaints, SiteComplaints } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** A search is followed by asking again, since it takes minutes and one page is looked at. */
const FOLLOW_MS = 2_000

const key = (site: number, page: number) => ['site', site, 'page', page, 'complaints']

export const usePageComplaints = (site: number, page: number) =>
  useQuery({
    queryKey: key(site, page),
    queryFn: () => call<PageComplaints>('GET', `/sites/${site}/pages/${page}/complaints`),
    refetchInterval: ({ state }) =>
      state.data?.searches.some((search) => search.state === 'running') ? FOLLOW_MS : false,
  })

/** What pages complain of since the sweep before; asked anew with the ledger. */
export const useNewComplaints = (site: number, sweep: string | null) =>
  useQuery({
    queryKey: [...keys.ledger(site), 'complaints', sweep],
    queryFn: () => call<SiteComplaints>('GET', `/sites/${site}/complaints${sweep ? `?sweep=${sweep}` : ''}`),
  })

/** Looks for what a page complains for, or stops looking. */
export function useCause(site: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: { find: CauseRequest } | { stop: number }) =>
      'find' in act
        ? call<CauseSearch>('POST', `/sites/${site}/pages/${page}/complaints/searches`, act.find)
        : call<CauseSearch>('POST', `/cause-searches/${act.stop}/stop`),
    onSuccess: () => client.invalidateQueries({ queryKey: key(site, page) }),
  })
}
