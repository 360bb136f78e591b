import { Link } from 'react-router'
import type { GentleSearch, RuleInput } from '@unvelt/contract'
import { useBestEffect, useSeekBestEffect } from '../api/culprits.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { useDraft } from './use-draft.js'
import { TriedEffects, triedWords } from './tried-effects.js'

interface BestEffectProps {
  siteId: number
  addon: { slug: string; name: string }
  pageId: number
}

/** What of an add-on can go from a page without breaking anything there: tried on the real page, what spares the most first. */
export function BestEffect({ siteId, addon, pageId }: BestEffectProps) {
  const { data: search } = useBestEffect(siteId, addon.slug, pageId)
  const seek = useSeekBestEffect(siteId)
  const draft = useDraft(siteId)
  const onError = (error: Error) => toast.error(error.message)
  const begin = () => seek.mutate({ begin: { addon: addon.slug, pageId } }, { onError })
  if (search === undefined) return null
  return (
    <section aria-label="What works here" className="mt-3 border-t border-line pt-3 text-[13.5px]">
      <h3 className="text-[15px]">What works here</h3>
      {search ? (
        <Search
          siteId={siteId}
          search={search}
          isPending={seek.isPending || draft.isPending}
          onAgain={begin}
          onStop={() => seek.mutate({ stop: search.id }, { onError })}
          onTake={(place) => draft.add(rulesOf(search, addon.slug, place))}
        />
      ) : (
        <>
          <p className="mt-1 text-soft">
            Not run, left out, held, in another order, only some of its files: tried on this page in turn, until all
            guards hold. Nothing changes for visitors.
          </p>
          <Button className="mt-2" disabled={seek.isPending} onClick={begin}>
            Find what works
          </Button>
        </>
      )}
    </section>
  )
}

interface SearchProps {
  siteId: number
  search: GentleSearch
  isPending: boolean
  onAgain(): void
  onStop(): void
  onTake(place: RuleInput['place']): void
}

function Search({ siteId, search, isPending, onAgain, onStop, onTake }: SearchProps) {
  const { reading, state, failure, found, path, kind, rehearsalId, finishedAt } = search
  return (
    <>
      {reading && (
        <p className="mt-1 text-soft" role="status">
          The page is being read{' '}
          <Link
            className="text-verdigris underline underline-offset-2"
            to={`/sites/${siteId}/rules/rehearsals/${rehearsalId}`}
          >
            with it and without
          </Link>{' '}
          …
        </p>
      )}
      <div className="mt-1">
        <TriedEffects search={search} narrow />
      </div>
      {failure && <p className="text-plum">{failure}</p>}
      {state === 'stopped' && <p className="text-soft">Stopped before the end.</p>}
      {state === 'done' && !found && <p>Nothing that it brings can go or wait here without breaking something.</p>}
      {state === 'done' && found && (
        <div className="mt-2 flex flex-wrap gap-2">
          <Button
            disabled={isPending}
            aria-label={`Draft it here: ${triedWords(found)}`}
            onClick={() => onTake({ level: 'page', path })}
          >
            Draft it here
          </Button>
          <Button
            weight="quiet"
            disabled={isPending}
            aria-label={`Draft it on pages of kind ${kind}: ${triedWords(found)}`}
            onClick={() => onTake({ level: 'kind', kind })}
          >
            on pages of kind {kind}
          </Button>
        </div>
      )}
      <p className="mt-1 flex items-center gap-2 text-[12.5px] text-soft">
        {state === 'running' ? (
          <Button weight="quiet" className="-ml-3" disabled={isPending} onClick={onStop}>
            Stop
          </Button>
        ) : (
          <>
            <span>Tried {dateTime(finishedAt ?? search.startedAt)}.</span>
            <Button weight="quiet" disabled={isPending} onClick={onAgain}>
              Look again
            </Button>
          </>
        )}
      </p>
    </>
  )
}

/** What was found as rules: one, or one for each of the files that can go. */
function rulesOf({ found }: GentleSearch, addon: string, place: RuleInput['place']): RuleInput[] {
  const { effect, until, order, files = [undefined] } = found!
  return files.map((file) => ({
    ...{ addon, effect, place },
    ...(file !== undefined && { file }),
    ...(until && { until }),
    ...(order && { order }),
  }))
}
