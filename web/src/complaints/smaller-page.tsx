import { toast } from 'sonner'
import type { CauseSearch, SmallerPage as Smaller } from '@unvelt/contract'
import { useCutDown } from '../api/complaints.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'

/** Longer ones are no reading for anybody; they can be taken as a file. */
const MOST_SHOWN = 20_000

interface SmallerProps {
  siteId: number
  search: CauseSearch
}

function useAct({ siteId, search }: SmallerProps) {
  const cut = useCutDown(siteId, search.id)
  const act = (what: 'start' | 'stop') => cut.mutate(what, { onError: (error) => toast.error(error.message) })
  return { act, isPending: cut.isPending }
}

export function CutDownButton(props: SmallerProps) {
  const { act, isPending } = useAct(props)
  return (
    <Button disabled={isPending} onClick={() => act('start')}>
      Smallest page that shows it
    </Button>
  )
}

/** The page that complains, cut down to what it complains for, to be sent along with the note. */
export function SmallerPage({ data, ...props }: SmallerProps & { data: Smaller }) {
  const { act, isPending } = useAct(props)
  return (
    <div
      role="group"
      aria-label="Smallest page that shows it"
      className="mt-1.5 w-full max-w-3xl border border-line bg-sheet"
    >
      <p className="flex items-center gap-3 px-3 py-2" aria-live="polite">
        <span className="flex-1">{words(data)}</span>
        {data.state === 'waiting' ? (
          <Button weight="quiet" disabled={isPending} onClick={() => act('stop')}>
            Stop
          </Button>
        ) : (
          <Button weight="quiet" disabled={isPending} onClick={() => act('start')}>
            Cut it down anew
          </Button>
        )}
      </p>
      {data.html !== null && (
        <>
          {data.html.length <= MOST_SHOWN && (
            <pre
              tabIndex={0}
              aria-label="Its source"
              className="max-h-80 overflow-auto border-t border-line/60 p-3 font-mono text-[12.5px] break-words whitespace-pre-wrap"
            >
              {data.html}
            </pre>
          )}
          {data.state === 'done' && (
            <p className="border-t border-line/60 px-3 py-2">
              <a
                href={`/api/cause-searches/${props.search.id}/smaller/file`}
                download
                className="text-verdigris underline underline-offset-2"
              >
                Take it as a file
              </a>
              <span className="text-soft"> – opened from disk it finds its scripts and styles at the site.</span>
            </p>
          )}
        </>
      )}
    </div>
  )
}

function words({ state, failure, readings, parts, left, wholeBytes, html }: Smaller): string {
  if (failure) return `It could not be cut down: ${failure}`
  if (html === null)
    return state === 'waiting' ? 'The page is about to be read …' : 'Stopped before anything was cut off.'
  const size = `${left} of ${plural(parts, 'part')}, ${bytes(html.length)} of ${bytes(wholeBytes)}`
  return state === 'waiting'
    ? `${size} so far, after ${plural(readings, 'reading')} …`
    : `It still complains with ${size}, found in ${plural(readings, 'reading')}.`
}
