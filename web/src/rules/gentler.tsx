import type { GentleSearch, RuleView } from '@unvelt/contract'
import { useSeekGentler } from '../api/culprits.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { TriedEffects, triedWords } from './tried-effects.js'

interface GentlerProps {
  siteId: number
  rule: RuleView
  /** The newest for this draft. */
  search: GentleSearch | undefined
}

/** Effects that are tried in the place of one that broke something, what spares the most first. */
export function Gentler({ siteId, rule, search }: GentlerProps) {
  const seek = useSeekGentler(siteId)
  const onError = (error: Error) => toast.error(error.message)
  const begin = () => seek.mutate({ begin: rule.id }, { onError })
  // What takes nothing away has nothing gentler; a feature runs or does not.
  if (rule.feature !== undefined || !['skip', 'leave-out', 'hold', 'order'].includes(rule.effect)) return null
  if (!search)
    return (
      <Button weight="quiet" className="-ml-3" disabled={seek.isPending} onClick={begin}>
        Find a gentler effect that works
      </Button>
    )
  const { state, found, path, lens, failure } = search
  return (
    <div className="mt-1 text-[13px]" role="group" aria-label={`Gentler effects for ${rule.addonName}`}>
      <p className="text-soft">
        Tried on {path} ({lens}), what spares the most first:
      </p>
      <TriedEffects search={search} />
      {failure && <p className="text-plum">{failure}</p>}
      {state === 'done' && !found && <p>Nothing gentler works on this page: keep it there, or confine it elsewhere.</p>}
      <p className="-ml-3">
        {state === 'running' && (
          <Button
            weight="quiet"
            disabled={seek.isPending}
            onClick={() => seek.mutate({ stop: search.id }, { onError })}
          >
            Stop
          </Button>
        )}
        {found && (
          <Button
            disabled={seek.isPending}
            className="ml-3"
            onClick={() => seek.mutate({ take: search.id }, { onError })}
          >
            Draft it {triedWords(found)}
          </Button>
        )}
        {state !== 'running' && (
          <Button weight="quiet" disabled={seek.isPending} onClick={begin}>
            Look again
          </Button>
        )}
      </p>
    </div>
  )
}
