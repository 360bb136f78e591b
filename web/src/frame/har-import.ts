import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { HarImport, Site } from '@unvelt/contract'
import { send } from '../api/client.js'
import { keys } from '../api/queries.js'
import { bytes, plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'

/** Sends a HAR file; what is in it becomes a sweep of its own. */
export function useHarImport(site: Site, onTaken: (sweep: number) => void) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (file: File) => {
      const sent = send<HarImport>('POST', `/sites/${site.id}/har`, file, 'application/har+json')
      toast.promise(sent, {
        loading: `Reading ${file.name}, ${bytes(file.size)} …`,
        success: ({ pages, requests, strange }) =>
          `${plural(pages, 'page')} with ${plural(requests, 'request')} taken in.` +
          (strange.length > 0
            ? ` ${plural(strange.length, 'page')} of other sites left out, such as ${strange[0]}.`
            : ''),
        error: (error: Error) => error.message,
      })
      return sent
    },
    onSuccess: async ({ sweepId }) => {
      await client.invalidateQueries({ queryKey: keys.site(site.id) })
      onTaken(sweepId)
    },
  })
}
