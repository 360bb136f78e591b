import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type {
  CauseRequest,
  CauseSearch,
  GuardCauseRequest,
  PageComplaints,
  RoundCauses,
  SiteComplaints,
  SmallerPage,
} from '@unvelt/contract'
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

/** Looks for what a page complains for. */
export function useCause(site: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: CauseRequest) =>
      call<CauseSearch>('POST', `/sites/${site}/pages/${page}/complaints/searches`, wish),
    onSuccess: () => client.invalidateQueries({ queryKey: key(site, page) }),
  })
}

const roundKey = (site: number, round: number) => ['site', site, 'rehearsal', round, 'causes']

/** What was looked into of a round of guards on the live site. */
export const useRoundCauses = (site: number, round: number, enabled: boolean) =>
  useQuery({
    queryKey: roundKey(site, round),
    queryFn: () => call<RoundCauses>('GET', `/rehearsals/${round}/causes`),
    enabled,
    refetchInterval: ({ state }) =>
      state.data?.searches.some((search) => search.state === 'running') ? FOLLOW_MS : false,
  })

/** Looks for what causes what a guard found. */
export function useCauseOfGuard(site: number, round: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: GuardCauseRequest) => call<CauseSearch>('POST', `/rehearsals/${round}/causes`, wish),
    onSuccess: () => client.invalidateQueries({ queryKey: roundKey(site, round) }),
  })
}

/** Stops looking, for whatever it was. */
export function useStopCause(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id }: Pick<CauseSearch, 'id'>) => call<CauseSearch>('POST', `/cause-searches/${id}/stop`),
    onSuccess: ({ pageId, roundId }) =>
      Promise.all([
        client.invalidateQueries({ queryKey: key(site, pageId) }),
        roundId !== null && client.invalidateQueries({ queryKey: roundKey(site, roundId) }),
      ]),
  })
}

const smallerKey = (site: number, search: number) => ['site', site, 'cause', search, 'smaller']

/** The smallest page that shows what was looked into; asked for again while it is being made. */
export const useSmallerPage = (site: number, search: number, enabled: boolean) =>
  useQuery({
    enabled,
    queryKey: smallerKey(site, search),
    queryFn: () => call<SmallerPage>('GET', `/cause-searches/${search}/smaller`),
    refetchInterval: ({ state }) => (state.data?.state === 'waiting' ? FOLLOW_MS : false),
  })

/** Has the page cut down, or ends that. */
export function useCutDown(site: number, search: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: 'start' | 'stop') =>
      call<SmallerPage>('POST', `/cause-searches/${search}/smaller${act === 'stop' ? '/stop' : ''}`),
    onSuccess: (page) => client.setQueryData(smallerKey(site, search), page),
  })
}
