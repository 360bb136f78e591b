import type { Site } from '@unvelt/contract'
import { useChangePatterns, usePatterns } from '../api/queries.js'
import { Button } from '../parts/button.js'
import { Failed } from '../parts/notice.js'
import { toast } from '../parts/toast.js'

/** The maintainer's own word on whose a file is. */
export function PatternList({ site }: { site: Site }) {
  const patterns = usePatterns(site.id)
  const change = useChangePatterns(site.id)
  if (patterns.isError) return <Failed error={patterns.error} retry={() => void patterns.refetch()} />
  if (!patterns.data) return null
  return (
    <section className="px-4 pt-6" aria-label="Own patterns">
      <h2 className="text-[17px]">Own patterns</h2>
      <p className="text-soft">
        Files that are charged by your word, in past sweeps too. A page’s list of files makes new ones.
        {patterns.data.recomputing && ' Past sweeps are being worked out anew.'}
      </p>
      {patterns.data.patterns.length === 0 ? (
        <p className="mt-2 border-t border-line pt-2 text-soft">None so far.</p>
      ) : (
        <ul className="mt-3 border-t border-line">
          {patterns.data.patterns.map(({ id, pattern, addon, addonName }) => (
            <li key={id} className="flex items-center gap-4 border-b border-line/60 py-1.5">
              <span className="min-w-0 flex-1 truncate" title={pattern}>
                {pattern}
              </span>
              <span className="font-semibold">{addonName}</span>
              <Button
                weight="quiet"
                aria-label={`Remove the pattern ${pattern}`}
                disabled={change.isPending}
                onClick={() =>
                  change.mutate(
                    { do: 'remove', id },
                    {
                      onError: (error) => toast.error(error.message),
                      onSuccess: () =>
                        toast('The pattern is removed.', {
                          action: {
                            label: 'Undo',
                            onClick: () => change.mutate({ do: 'add', input: { pattern, addon } }),
                          },
                        }),
                    },
                  )
                }
              >
                Remove
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}
