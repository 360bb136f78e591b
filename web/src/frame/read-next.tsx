import { useReadNext, useSweeps } from '../api/queries.js'
import { plural } from '../figures/format.js'
import { toast } from '../parts/toast.js'

/** While a sweep runs: has pages that somebody looks at read before all others. Nothing where none is under way. */
export function ReadNext({ site, pageIds }: { site: number; pageIds: number[] }) {
  const { data: sweeps = [] } = useSweeps(site)
  const next = useReadNext(site)
  const sweep = sweeps.find(({ status, purpose }) => status === 'running' && purpose === 'survey')
  if (!sweep || pageIds.length === 0) return null
  return (
    <button
      type="button"
      className="text-verdigris hover:underline"
      disabled={next.isPending}
      onClick={() =>
        next.mutate(
          { sweep: sweep.id, pageIds },
          {
            onSuccess: ({ pages }) => toast(`${plural(pages, 'page')} will be read next.`),
            onError: (error) => toast.error(error.message),
          },
        )
      }
    >
      {pageIds.length === 1 ? 'Read it next' : `Read these ${pageIds.length} pages next`}
    </button>
  )
}
