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

/** Has all that breaks a guard set aside as it is found, and the rest rehearsed. */
export function useSortOut(site: number, rehearsal: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => call<RehearsalSheet>('POST', `/rehearsals/${rehearsal}/sort-out`),
    onSuccess: (sheet) => client.setQueryData([...keys.rehearsals(site), rehearsal], sheet),
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

/** What works of an add-on on a page, as it was looked for last. */
export const useBestEffect = (site: number, addon: string, pageId: number) =>
  useQuery({
    queryKey: [...keys.gentler(site), addon, pageId],
    queryFn: async () => {
      const of = new URLSearchParams({ addon, pageId: String(pageId) })
      return (await call<GentleSearch[]>('GET', `/sites/${site}/best-effects?${of}`))[0] ?? null
    },
  })

type BestEffectAct = { begin: { addon: string; pageId: number } } | { stop: number }

/** Looks for what works of an add-on on a page. */
export function useSeekBestEffect(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (act: BestEffectAct) =>
      'begin' in act
        ? call<GentleSearch>('POST', `/sites/${site}/best-effects`, act.begin)
        : call<GentleSearch>('POST', `/gentler/${act.stop}/stop`),
    onSuccess: () => client.invalidateQueries({ queryKey: keys.gentler(site) }),
  })
}
