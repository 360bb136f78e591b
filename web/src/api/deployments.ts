import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Deployment, Net, ReadAgain, RulesAtSite } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

export const useDeployments = (site: number) =>
  useQuery({
    queryKey: keys.deployments(site),
    queryFn: () => call<Deployment[]>('GET', `/sites/${site}/deployments`),
  })

/** The change of rules that is under way; undefined where there is none. */
export const useUnderWay = (site: number): Deployment | undefined =>
  useDeployments(site).data?.find(({ finishedAt }) => finishedAt === null)

export interface PutLiveWishes {
  unrehearsed?: string
  net?: Net
  inParts?: boolean
  evenNow?: boolean
}
type Change = ({ putLive: ReadAgain } & PutLiveWishes) | { backTo: number; live: number }

/** Begins to put the drafts live, or to take the rules back to an older version. */
export function useApplyRules(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: Change) =>
      'putLive' in change
        ? call<Deployment>('POST', `/sites/${site}/rules/put-live`, {
            readAgain: change.putLive,
            unrehearsed: change.unrehearsed,
            net: change.net,
            inParts: change.inParts,
            evenNow: change.evenNow,
          })
        : call<Deployment>('POST', `/sites/${site}/rules/take-back/${change.backTo}?live=${change.live}`),
    onSuccess: (begun) =>
      client.setQueryData<Deployment[]>(keys.deployments(site), (old = []) => [
        begun,
        ...old.filter(({ id }) => id !== begun.id),
      ]),
    // Of what was refused because somebody else was first that is shown then.
    onSettled: () =>
      Promise.all([keys.deployments(site), keys.rules(site)].map((queryKey) => client.invalidateQueries({ queryKey }))),
  })
}

/** The site's rules against those that were put there last. */
export const useRulesAtSite = (site: number, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.rules(site), 'at-site'],
    queryFn: () => call<RulesAtSite>('GET', `/sites/${site}/rules/at-site`),
    enabled,
    retry: false,
  })

/** Settles which of the two is to hold. */
export function useSettleRules(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ by, siteVersion }: { by: 'adopt' | 'restore'; siteVersion: number }) =>
      call<Deployment>('POST', `/sites/${site}/rules/${by}`, { siteVersion }),
    onSettled: () => client.invalidateQueries({ queryKey: keys.site(site) }),
  })
}
