import { toast } from 'sonner'
import type { GentleSearch, LoadedFigures, RuleView } from '@unvelt/contract'
import { useSeekGentler } from '../api/culprits.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { effectWords } from './words.js'

/** Two loads of one page differ by so much for no reason. */
const LEAST_BYTES = 500

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
  const { tries, effects, state, found, path, lens, failure } = search
  return (
    <div className="mt-1 text-[13px]" role="group" aria-label={`Gentler effects for ${rule.addonName}`}>
      <p className="text-soft">
        Tried on {path} ({lens}), what spares the most first:
      </p>
      <ol className="figures">
        {effects.slice(0, state === 'running' ? tries.length + 1 : tries.length).map((effect, n) => {
          const tried = tries[n]
          return (
            <li key={effectWords(effect)} className="flex gap-3">
              <span className="w-52 shrink-0">{effectWords(effect)}</span>
              <span className={`min-w-0 flex-1 truncate ${tried?.fails === false ? 'font-semibold' : 'text-soft'}`}>
                {!tried
                  ? 'is being tried …'
                  : tried.fails
                    ? `breaks ${tried.why ?? 'a guard'}`
                    : `all guards hold; ${sparedWords(search)}`}
              </span>
            </li>
          )
        })}
      </ol>
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
            Draft it {effectWords(found)}
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

/** What the gentler effect spares until the page has loaded, beside what the other would have spared. */
function sparedWords({ found, without, asItWas }: GentleSearch): string {
  const less = (figures: LoadedFigures): string | null => {
    const requests = Math.max(0, Math.round(without.requests - figures.requests))
    const size = Math.max(0, without.transferBytes - figures.transferBytes)
    return requests === 0 && size < LEAST_BYTES ? null : `${plural(requests, 'request')} and ${bytes(size)}`
  }
  const [gentle, whole] = [less(found!.figures), less(asItWas)]
  const other = whole === null ? '' : `, the other ${whole}`
  return gentle === null
    ? `as much loads, only its turn is another${whole === null ? '' : `; the other spares ${whole}`}`
    : `at load it spares ${gentle}${other}`
}
