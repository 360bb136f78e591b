import type { CauseSearch, SmallerPage as Smaller } from '@unvelt/contract'
import { useCutDown } from '../api/complaints.js'
import { bytes, plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

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
        <pre
          tabIndex={0}
          aria-label="Its source"
          className="max-h-80 overflow-auto border-t border-line/60 p-3 font-mono text-[12.5px] break-words whitespace-pre-wrap"
        >
          {data.html}
        </pre>
      )}
      {data.state === 'done' && data.bytes !== null && (
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
    </div>
  )
}

function words({ state, failure, readings, parts, left, wholeBytes, bytes: size }: Smaller): string {
  if (failure) return `It could not be cut down: ${failure}`
  if (size === null)
    return state === 'waiting' ? 'The page is about to be read …' : 'Stopped before anything was cut off.'
  const told = `${left} of ${plural(parts, 'part')}, ${bytes(size)} of ${bytes(wholeBytes)}`
  return state === 'waiting'
    ? `${told} so far, after ${plural(readings, 'reading')} …`
    : `It still complains with ${told}, found in ${plural(readings, 'reading')}.`
}
