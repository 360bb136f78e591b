import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type {
  AcceptRequest,
  Rehearsal,
  RehearsalRequest,
  RehearsalSheet,
  RoundRequest,
  UnacceptRequest,
} from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

export const useRehearsals = (site: number) =>
  useQuery({ queryKey: keys.rehearsals(site), queryFn: () => call<Rehearsal[]>('GET', `/sites/${site}/rehearsals`) })

/** The rehearsal that is under way; undefined where there is none. */
export const useRehearsing = (site: number): Rehearsal | undefined =>
  useRehearsals(site).data?.find(({ state }) => state === 'running')

export const useRehearsal = (site: number, id: number) =>
  useQuery({
    queryKey: [...keys.rehearsals(site), id],
    queryFn: () => call<RehearsalSheet>('GET', `/rehearsals/${id}`),
  })

export function useRehearse(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: RehearsalRequest) => call<Rehearsal>('POST', `/sites/${site}/rehearsals`, wish),
    onSettled: () => client.invalidateQueries({ queryKey: keys.rehearsals(site) }),
  })
}

/** Plays the guards on the live site as it is. */
export function usePlayGuards(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: RoundRequest) => call<Rehearsal>('POST', `/sites/${site}/rounds`, wish),
    onSettled: () => client.invalidateQueries({ queryKey: keys.rehearsals(site) }),
  })
}

/** What a round saw is as it should be. */
export function useTakeAsSound(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => call<Rehearsal>('POST', `/rehearsals/${id}/sound`),
    onSettled: () => client.invalidateQueries({ queryKey: keys.rehearsals(site) }),
  })
}

export function useStopRehearsal(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) => call<Rehearsal>('POST', `/rehearsals/${id}/stop`),
    onSettled: () => client.invalidateQueries({ queryKey: keys.rehearsals(site) }),
  })
}

type Verdict = { accept: AcceptRequest } | { unaccept: UnacceptRequest }

/** Accepts a difference that a guard found, or takes that back. */
export function useAccept(site: number, id: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (verdict: Verdict) =>
      'accept' in verdict
        ? call<RehearsalSheet>('POST', `/rehearsals/${id}/accept`, verdict.accept)
        : call<RehearsalSheet>('POST', `/rehearsals/${id}/unaccept`, verdict.unaccept),
    onSuccess: (sheet) => client.setQueryData([...keys.rehearsals(site), id], sheet),
    onSettled: () => client.invalidateQueries({ queryKey: keys.rehearsals(site) }),
  })
}
