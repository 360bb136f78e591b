import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { SiteKeepings, Tidying, TidyRequest } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** Below the retirements', which are told of when something is done at the site. */
const at = (site: number) => [...keys.retirements(site), 'keepings']

/** Asked of the site itself. */
export const useKeepings = (site: number) =>
  useQuery({ queryKey: at(site), queryFn: () => call<SiteKeepings>('GET', `/sites/${site}/keepings`), retry: false })

export function useTidy(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (wish: TidyRequest) => call<Tidying>('POST', `/sites/${site}/keepings/tidy`, wish),
    onSuccess: () => client.invalidateQueries({ queryKey: at(site) }),
  })
}
