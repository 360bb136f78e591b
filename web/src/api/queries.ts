import {
  keepPreviousData,
  queryOptions,
  useMutation,
  useQuery,
  useQueryClient,
  type QueryClient,
} from '@tanstack/react-query'
import type {
  AddOn,
  AddOnSheet,
  Drafts,
  Ledger,
  Lens,
  LensInput,
  LiveRules,
  Outside,
  Page,
  PageSheet,
  PatternInput,
  Patterns,
  Prediction,
  Proof,
  ProofSummary,
  RuleFinding,
  RuleInput,
  ServerReadings,
  SiteChange,
  Site,
  Standing,
  ReadNextAnswer,
  ReadNextRequest,
  Sweep,
  SweepRequest,
  WithoutRequest,
  WithoutView,
} from '@unvelt/contract'
import type { EffectChoice } from '../rules/words.js'
import { call } from './client.js'

export const keys = {
  sites: ['sites'] as const,
  site: (site: number) => ['site', site] as const,
  ledger: (site: number) => ['site', site, 'ledger'] as const,
  retirements: (site: number) => ['site', site, 'retirements'] as const,
  weighIns: (site: number) => ['site', site, 'weigh-ins'] as const,
  drafts: (site: number) => ['site', site, 'drafts'] as const,
  rules: (site: number) => ['site', site, 'rules'] as const,
  sweeps: (site: number) => ['site', site, 'sweeps'] as const,
  lenses: (site: number) => ['site', site, 'lenses'] as const,
  serverReadings: (site: number, page: number) => ['site', site, 'server-readings', page] as const,
  without: (site: number, page: number) => ['site', site, 'without', page] as const,
  patterns: (site: number) => ['site', site, 'patterns'] as const,
  storage: (site: number) => ['site', site, 'storage'] as const,
  /** Below the drafts', since these tell how many of them say a set's name. */
  pageSets: (site: number) => ['site', site, 'drafts', 'page-sets'] as const,
  /** Below the ledger's, since what changes one changes the other. */
  standing: (site: number) => ['site', site, 'ledger', 'standing'] as const,
  proofs: (site: number) => ['site', site, 'proofs'] as const,
  deployments: (site: number) => ['site', site, 'deployments'] as const,
  findings: (site: number) => ['site', site, 'findings'] as const,
  preview: ['preview'] as const,
  rehearsals: (site: number) => ['site', site, 'rehearsals'] as const,
  gentler: (site: number) => [...keys.site(site), 'gentler'] as const,
}

export const useSites = () => useQuery({ queryKey: keys.sites, queryFn: () => call<Site[]>('GET', '/sites') })

export const ledgerQuery = (site: number, sweep: string | null) =>
  queryOptions({
    queryKey: [...keys.ledger(site), sweep],
    queryFn: () => call<Ledger>('GET', `/sites/${site}/ledger${sweep ? `?sweep=${sweep}` : ''}`),
    placeholderData: keepPreviousData,
  })

export const useLedger = (site: number, sweep: string | null) => useQuery(ledgerQuery(site, sweep))
export const useDrafts = (site: number) =>
  useQuery({ queryKey: keys.drafts(site), queryFn: () => call<Drafts>('GET', `/sites/${site}/drafts`) })
export const useLiveRules = (site: number) =>
  useQuery({ queryKey: keys.rules(site), queryFn: () => call<LiveRules>('GET', `/sites/${site}/rules`) })
/** What is wrong with the rules as they would be live. */
export const useFindings = (site: number) =>
  useQuery({
    queryKey: keys.findings(site),
    queryFn: () => call<RuleFinding[]>('GET', `/sites/${site}/rules/findings`),
  })
export const useSweeps = (site: number) =>
  useQuery({ queryKey: keys.sweeps(site), queryFn: () => call<Sweep[]>('GET', `/sites/${site}/sweeps`) })
export const useProofs = (site: number) =>
  useQuery({ queryKey: keys.proofs(site), queryFn: () => call<ProofSummary[]>('GET', `/sites/${site}/proofs`) })
export const useProof = (site: number, id: number) =>
  useQuery({ queryKey: [...keys.proofs(site), id], queryFn: () => call<Proof>('GET', `/proofs/${id}`) })
/** Reads the pages of a proof some times more. */
export function useReadMore(site: number, id: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => call<Proof>('POST', `/proofs/${id}/more`, {}),
    onSuccess: (proof) => {
      client.setQueryData([...keys.proofs(site), id], proof)
      return client.invalidateQueries({ queryKey: keys.sweeps(site) })
    },
  })
}
export const usePages = (site: number) =>
  useQuery({ queryKey: [...keys.site(site), 'pages'], queryFn: () => call<Page[]>('GET', `/sites/${site}/pages`) })
export const useAddOns = (site: number) =>
  useQuery({ queryKey: [...keys.site(site), 'add-ons'], queryFn: () => call<AddOn[]>('GET', `/sites/${site}/add-ons`) })

export const useOutside = (site: number, sweep: string | null) =>
  useQuery({
    queryKey: [...keys.ledger(site), 'outside', sweep],
    queryFn: () => call<Outside>('GET', `/sites/${site}/outside${sweep ? `?sweep=${sweep}` : ''}`),
  })

export const usePageSheet = (site: number, page: number | undefined, sweep: number | undefined) =>
  useQuery({
    queryKey: [...keys.ledger(site), 'page', page, sweep],
    queryFn: () => call<PageSheet>('GET', `/sites/${site}/pages/${page}${sweep ? `?sweep=${sweep}` : ''}`),
    enabled: page !== undefined && sweep !== undefined,
  })

export const useStanding = (site: number, sweep: string | null) =>
  useQuery({
    queryKey: [...keys.standing(site), sweep],
    queryFn: () => call<Standing>('GET', `/sites/${site}/standing${sweep ? `?sweep=${sweep}` : ''}`),
    placeholderData: keepPreviousData,
  })

/** What the rules would spare, before anybody drafts them. */
export const usePrediction = (site: number, rules: RuleInput[], sweep: number | undefined) =>
  useQuery({
    queryKey: [...keys.ledger(site), 'prediction', sweep, rules],
    queryFn: () => call<Prediction>('POST', `/sites/${site}/predictions`, { rules }),
    enabled: rules.length > 0 && sweep !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  })

export const useServerReadings = (site: number, page: number) =>
  useQuery({
    queryKey: keys.serverReadings(site, page),
    queryFn: () => call<ServerReadings>('GET', `/sites/${site}/pages/${page}/server-readings`),
    refetchInterval: ({ state }) => (state.data && state.data.underWay > 0 ? 700 : false),
  })

export function useAskServer(site: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => call<ServerReadings>('POST', `/sites/${site}/pages/${page}/server-readings`, {}),
    onSuccess: (readings) => client.setQueryData(keys.serverReadings(site, page), readings),
  })
}

export const useWithout = (site: number, page: number) =>
  useQuery({
    queryKey: keys.without(site, page),
    queryFn: () => call<WithoutView>('GET', `/sites/${site}/pages/${page}/without`),
    refetchInterval: ({ state }) => (state.data?.taken.some(({ underWay }) => underWay > 0) ? 1000 : false),
  })

export function useReadWithout(site: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (request: WithoutRequest) => call<WithoutView>('POST', `/sites/${site}/pages/${page}/without`, request),
    onSuccess: (view) => client.setQueryData(keys.without(site, page), view),
  })
}

/** Asked again every second while past sweeps are being worked out anew. */
export const usePatterns = (site: number) =>
  useQuery({
    queryKey: keys.patterns(site),
    queryFn: () => call<Patterns>('GET', `/sites/${site}/patterns`),
    refetchInterval: ({ state }) => (state.data?.recomputing ? 1000 : false),
  })

export function useChangePatterns(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: { do: 'add'; input: PatternInput } | { do: 'remove'; id: number }) =>
      change.do === 'add'
        ? call<Patterns>('POST', `/sites/${site}/patterns`, change.input)
        : call<Patterns>('DELETE', `/sites/${site}/patterns/${change.id}`),
    onSuccess: (patterns) => {
      client.setQueryData(keys.patterns(site), patterns)
      return client.invalidateQueries({ queryKey: [...keys.site(site), 'add-ons'] })
    },
  })
}

export const useLenses = (site: number) =>
  useQuery({ queryKey: keys.lenses(site), queryFn: () => call<Lens[]>('GET', `/sites/${site}/lenses`) })

type LensChange =
  | { do: 'add'; lens: LensInput }
  | { do: 'change'; id: number; lens: LensInput }
  | { do: 'remove'; id: number }
  | { do: 'bring back'; id: number }

export function useChangeLenses(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (change: LensChange): Promise<void> => {
      const path = `/sites/${site}/lenses`
      if (change.do === 'add') await call<Lens>('POST', path, change.lens)
      else if (change.do === 'change') await call<Lens>('PUT', `${path}/${change.id}`, change.lens)
      else if (change.do === 'remove') await call<void>('DELETE', `${path}/${change.id}`)
      else await call<Lens>('POST', `${path}/${change.id}/restore`)
    },
    onSuccess: () => client.invalidateQueries({ queryKey: keys.lenses(site) }),
  })
}

export function useChangeSite(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: SiteChange) => call<Site>('PATCH', `/sites/${site}`, change),
    // When changes may go live goes by it, too.
    onSuccess: () =>
      Promise.all([keys.sites, keys.deployments(site)].map((queryKey) => client.invalidateQueries({ queryKey }))),
  })
}

export function useStartSweep(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (request?: SweepRequest) => call<Sweep>('POST', `/sites/${site}/sweeps`, request ?? {}),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.sweeps(site) }),
  })
}

export type SweepAct = 'cancel' | 'pause' | 'resume' | 'reread'

export function useChangeSweep(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ sweep, act }: { sweep: number; act: SweepAct }) => call<Sweep>('POST', `/sweeps/${sweep}/${act}`),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.site(site) }),
  })
}

export function useReadNext(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ sweep, pageIds }: { sweep: number } & ReadNextRequest) =>
      call<ReadNextAnswer>('POST', `/sweeps/${sweep}/next`, { pageIds }),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.sweeps(site) }),
  })
}

type DraftChange =
  | { do: 'add'; rules: RuleInput[] }
  | { do: 'change'; id: string; to: EffectChoice }
  | { do: 'remove'; id: string }
  | { do: 'clear' }

export function useChangeDrafts(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: DraftChange) => {
      const path = `/sites/${site}/drafts`
      switch (change.do) {
        case 'add':
          return call<Drafts>('POST', path, { rules: change.rules })
        case 'change':
          return call<Drafts>('PATCH', `${path}/${change.id}`, change.to)
        case 'remove':
          return call<Drafts>('DELETE', `${path}/${change.id}`)
        case 'clear':
          return call<Drafts>('DELETE', path)
      }
    },
    onSuccess: (drafts) => {
      client.setQueryData(keys.drafts(site), drafts)
      return draftsChanged(client, site)
    },
  })
}

/** What is worked out from the drafts is asked for anew: marks in the ledger, findings, and what rehearsals still say. */
export async function draftsChanged(client: QueryClient, site: number): Promise<void> {
  await Promise.all(
    [keys.ledger(site), keys.findings(site), keys.rehearsals(site), keys.pageSets(site)].map((queryKey) =>
      client.invalidateQueries({ queryKey }),
    ),
  )
}

/** All that is known of one add-on, as one sweep saw it. */
export const useAddOnSheet = (site: number, slug: string | undefined, sweep: number | undefined) =>
  useQuery({
    queryKey: [...keys.site(site), 'add-on', slug, sweep],
    queryFn: () =>
      call<AddOnSheet>(
        'GET',
        `/sites/${site}/add-ons/${encodeURIComponent(slug!)}${sweep === undefined ? '' : `?sweep=${sweep}`}`,
      ),
    enabled: slug !== undefined,
    placeholderData: keepPreviousData,
  })
