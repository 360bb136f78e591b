import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type {
  RetirementChange,
  RetirementDo,
  Retirements,
  RetirementSheet,
  SiteLeftovers,
  WorkPageChange,
} from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

export const useRetirements = (site: number) =>
  useQuery({ queryKey: keys.retirements(site), queryFn: () => call<Retirements>('GET', `/sites/${site}/retirements`) })

export const useRetirement = (site: number, id: number) =>
  useQuery({
    queryKey: [...keys.retirements(site), id],
    queryFn: () => call<RetirementSheet>('GET', `/retirements/${id}`),
  })

/** Asked of the site itself, which may take a while. */
export const useLeftovers = (site: number) =>
  useQuery({
    queryKey: [...keys.retirements(site), 'leftovers'],
    queryFn: () => call<SiteLeftovers>('GET', `/sites/${site}/leftovers`),
    staleTime: 60_000,
    retry: false,
  })

type Act =
  | { open: string; features?: string[] }
  | { id: number; change: RetirementChange }
  | { id: number; page: number; work: WorkPageChange }
  | { id: number; rehearse: true }
  | { id: number; do: RetirementDo }
  | { id: number; readSite: true }

/** Everything that is done about a retirement answers with its sheet. */
export function useRetire(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (act: Act) => {
      if ('open' in act)
        return call<RetirementSheet>('POST', `/sites/${site}/retirements`, {
          slug: act.open,
          ...(act.features && { features: act.features }),
        })
      const path = `/retirements/${act.id}`
      if ('change' in act) return call<RetirementSheet>('PATCH', path, act.change)
      if ('work' in act) return call<RetirementSheet>('PATCH', `${path}/pages/${act.page}`, act.work)
      if ('rehearse' in act) return call<RetirementSheet>('POST', `${path}/rehearse`)
      if ('do' in act) return call<RetirementSheet>('POST', `${path}/do`, act.do)
      await call('POST', `/sites/${site}/refresh`)
      return call<RetirementSheet>('GET', path)
    },
    onSuccess: (sheet) => {
      client.setQueryData([...keys.retirements(site), sheet.id], sheet)
      void client.invalidateQueries({ queryKey: keys.retirements(site), exact: true })
      void client.invalidateQueries({ queryKey: keys.rehearsals(site) })
    },
  })
}
