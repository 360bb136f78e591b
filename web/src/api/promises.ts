import { useQuery } from '@tanstack/react-query'
import type { PromiseKind, Promises } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** What came of what was said that could be spared of pictures, or of scripts and styles. */
export const usePromises = (site: number, kind: PromiseKind) =>
  useQuery({
    queryKey: [...keys.site(site), 'promises', kind],
    queryFn: () => call<Promises>('GET', `/sites/${site}/promises?kind=${kind}`),
  })
