import { useMutation, useQueryClient } from '@tanstack/react-query'
import type { PageViewImport } from '@unvelt/contract'
import { send } from '../api/client.js'
import { keys } from '../api/queries.js'
import { bytes, count, plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'

/** Sends a log or a table of page views. */
export function useViewsImport(site: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (file: File) => {
      const type = /\.csv$/i.test(file.name) ? 'text/csv' : 'text/plain'
      const sent = send<PageViewImport>('POST', `/sites/${site}/page-views`, file, type)
      toast.promise(sent, {
        loading: `Reading ${file.name}, ${bytes(file.size)} …`,
        success: taken,
        error: (error: Error) => error.message,
        duration: 10_000,
      })
      return sent
    },
    onSuccess: () => client.invalidateQueries({ queryKey: keys.site(site) }),
  })
}

function taken({ lines, views, bots, bad, badLines, pages, strange }: PageViewImport): string {
  const [first] = badLines
  return [
    `${plural(views, 'view')} of ${plural(pages, 'page')} from ${plural(lines, 'line')}.`,
    bots > 0 && `${count(bots)} by bots left out.`,
    bad > 0 && first && `${plural(bad, 'line')} could not be read, the first of them line ${first.line}.`,
    strange.length > 0 && `Not of this site: ${strange.slice(0, 3).join(', ')}${strange.length > 3 ? ' …' : ''}.`,
  ]
    .filter((part) => part !== false)
    .join(' ')
}
