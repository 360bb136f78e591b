import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { PictureLookView, SitePictures } from '@unvelt/contract'
import { call } from './client.js'

const LOOK_AGAIN_MS = 1_000
const keyOf = (site: number, page: number) => ['site', site, 'pictures', page] as const
const pathOf = (site: number, page: number) => `/sites/${site}/pages/${page}/pictures`

export const usePictures = (site: number, page: number) =>
  useQuery({
    queryKey: keyOf(site, page),
    queryFn: () => call<PictureLookView>('GET', pathOf(site, page)),
    refetchInterval: ({ state }) => (state.data?.newest?.underWay ? LOOK_AGAIN_MS : false),
  })

export function useLookAtPictures(site: number, page: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (similarity: number) => call<PictureLookView>('POST', pathOf(site, page), { similarity }),
    onSuccess: (view) => client.setQueryData(keyOf(site, page), view),
  })
}

/** Where a picture of the newest look is, as it was or as it was made anew. The look's number keeps older ones from showing. */
export const pictureAddress = (site: number, page: number, look: number, n: number, as: string): string =>
  `/api${pathOf(site, page)}/files/${n}/${as}?look=${look}`

const allOf = (site: number) => ['site', site, 'pictures', 'all'] as const

/** The pictures of all pages, followed while pages wait for being looked at. */
export const useSitePictures = (site: number) =>
  useQuery({
    queryKey: allOf(site),
    queryFn: () => call<SitePictures>('GET', `/sites/${site}/pictures`),
    refetchInterval: ({ state }) => (state.data && state.data.waiting > 0 ? 2 * LOOK_AGAIN_MS : false),
  })

/** Looks at the pictures of all pages, or, where nothing is said, at no more of them. */
export function useLookAtAllPictures(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (similarity: number | null) =>
      similarity === null
        ? call<SitePictures>('DELETE', `/sites/${site}/pictures`)
        : call<SitePictures>('POST', `/sites/${site}/pictures`, { similarity }),
    onSuccess: (view) => client.setQueryData(allOf(site), view),
  })
}
