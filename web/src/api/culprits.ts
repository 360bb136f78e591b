import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { CulpritRequest, Drafts, GentleSearch, RehearsalSheet } from '@unvelt/contract'
import { call } from './client.js'
import { draftsChanged, keys } from './queries.js'

type SearchAct = { find: CulpritRequest } | { stop: number } | { setAside: number }

/** Looks for the drafts that break a guard of a rehearsal, and sets aside what was found. */
export function useCulprits(site: number, rehearsal: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: SearchAct) => {
      if ('find' in act) return call<RehearsalSheet>('POST', `/rehearsals/${rehearsal}/searches`, act.find)
      return 'stop' in act
        ? call<RehearsalSheet>('POST', `/searches/${act.stop}/stop`)
        : call<RehearsalSheet>('POST', `/searches/${act.setAside}/set-aside`)
    },
    onSuccess: async (sheet, act) => {
      client.setQueryData([...keys.rehearsals(site), rehearsal], sheet)
      if (!('setAside' in act)) return
      await client.invalidateQueries({ queryKey: keys.drafts(site) })
      await draftsChanged(client, site)
    },
  })
}

/** Takes a draft up again that was set aside, or throws it away. */
export function useAside(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, keep }: { id: string; keep: boolean }) =>
      keep
        ? call<Drafts>('POST', `/sites/${site}/drafts/${id}/bring-back`)
        : call<Drafts>('DELETE', `/sites/${site}/drafts/${id}`),
    onSuccess: (drafts) => {
      client.setQueryData(keys.drafts(site), drafts)
      return draftsChanged(client, site)
    },
  })
}

/** The newest search for a gentler effect of each draft that broke something. */
export const useGentler = (site: number, enabled: boolean) =>
  useQuery({
    enabled,
    queryKey: keys.gentler(site),
    queryFn: () => call<GentleSearch[]>('GET', `/sites/${site}/gentler`),
  })

type GentlerAct = { begin: string } | { stop: number } | { take: number }

/** Looks for a gentler effect, and drafts what was found. */
export function useSeekGentler(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: GentlerAct) =>
      'begin' in act
        ? call<GentleSearch>('POST', `/sites/${site}/drafts/${act.begin}/gentler`)
        : 'stop' in act
          ? call<GentleSearch>('POST', `/gentler/${act.stop}/stop`)
          : call<GentleSearch>('POST', `/gentler/${act.take}/take`),
    onSuccess: async (_, act) => {
      await client.invalidateQueries({ queryKey: keys.gentler(site) })
      if (!('take' in act)) return
      await client.invalidateQueries({ queryKey: keys.drafts(site) })
      await draftsChanged(client, site)
    },
  })
}
