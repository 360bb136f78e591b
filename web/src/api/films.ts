import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { FilmView } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

const LOOK_AGAIN_MS = 1500
const filmOf = (site: number, proof: number, page: number) => [...keys.proofs(site), proof, 'film', page] as const

/** The film of a page before and after a change; it is looked at again while it is being taken. */
export const useFilm = (site: number, proof: number, page: number) =>
  useQuery({
    queryKey: filmOf(site, proof, page),
    queryFn: () => call<FilmView>('GET', `/proofs/${proof}/pages/${page}/film`),
    refetchInterval: ({ state: { data } }) => (data?.state === 'waiting' ? LOOK_AGAIN_MS : false),
  })

export function useTakeFilm(site: number, proof: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => call<FilmView>('POST', `/proofs/${proof}/pages/${page}/film`),
    onSuccess: (film) => client.setQueryData(filmOf(site, proof, page), film),
  })
}
