import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import type { Preview, PreviewChange } from '@unvelt/contract'
import { call } from './client.js'
import { keys } from './queries.js'

/** The host name of the window around a preview begins with the preview's id. */
const WINDOW = /^([a-z0-9]{10})-[0-9a-z]+-[a-z2-7]{26}\./

/** Whether this is the window around a preview, and not Unvelt at its own address. */
export const isWindow = () => WINDOW.test(location.hostname)

/** The preview that this is the window around. */
export const usePreview = () =>
  useQuery({
    queryKey: keys.preview,
    staleTime: Infinity,
    queryFn: () => call<Preview>('GET', `/previews/${WINDOW.exec(location.hostname)?.[1]}`),
  })

/** A new preview. */
export const useOpenPreview = (site: number) =>
  useQuery({
    queryKey: ['site', site, 'open-preview'],
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
    queryFn: () => call<Preview>('POST', `/sites/${site}/previews`, {}),
  })

export function useChangePreview() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ id, ...change }: PreviewChange & { id: string }) =>
      call<Preview>('PATCH', `/previews/${id}`, change),
    onSuccess: (preview) => client.setQueryData(keys.preview, preview),
  })
}
