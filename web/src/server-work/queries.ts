import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { ActionsView, TasksAndTraces, TraceView } from '@unvelt/contract'
import { call } from '../api/client.js'
import { keys } from '../api/queries.js'

const actionsKey = (site: number) => [...keys.site(site), 'actions']
const tracesKey = (site: number) => [...keys.site(site), 'traces']

export const useActions = (site: number) =>
  useQuery({
    queryKey: actionsKey(site),
    queryFn: () => call<ActionsView>('GET', `/sites/${site}/actions`),
    refetchInterval: ({ state }) => (state.data && state.data.underWay > 0 ? 700 : false),
  })

export function useTryActions(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => call<ActionsView>('POST', `/sites/${site}/actions`, {}),
    onSuccess: (view) => client.setQueryData(actionsKey(site), view),
  })
}

/** Asked again while actions are tried: each brings traces. */
export const useTraces = (site: number, often: boolean) =>
  useQuery({
    queryKey: tracesKey(site),
    queryFn: () => call<TasksAndTraces>('GET', `/sites/${site}/traces`),
    refetchInterval: often ? 1500 : 30_000,
  })

export const useTrace = (site: number, trace: string) =>
  useQuery({
    queryKey: [...tracesKey(site), trace],
    queryFn: () => call<TraceView>('GET', `/sites/${site}/traces/${encodeURIComponent(trace)}`),
  })
