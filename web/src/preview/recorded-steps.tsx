import { X } from 'lucide-react'
import { useState } from 'react'
import type { Page, Preview, Site } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import { actionWords } from '../steps/step-words.js'
import { KeepRecorded } from './keep-recorded.js'
import { pickExpected, useRecorded, withAction, type RecordedAction } from './use-recorded.js'

const MOST = 50

interface RecordedStepsProps {
  site: Site
  preview: Preview
  path: string
  pages: Page[]
  onRecord(recording: boolean): void
}

/** What is done on the page, noted as it is done; kept, it is done at every rehearsal. */
export function RecordedSteps({ site, preview, path, pages, onRecord }: RecordedStepsProps) {
  const [actions, setActions] = useState<RecordedAction[]>([])
  /** Where the recording began. */
  const [from, setFrom] = useState(path)
  const [isKeeping, setKeeping] = useState(false)
  const [isPicking, setPicking] = useState(false)
  useRecorded(preview, (action) => {
    if (!preview.recording) return
    setPicking(false)
    if (actions.length >= MOST) toast.error(`No more than ${MOST} actions are noted in one step.`)
    else setActions(withAction(actions, action))
  })
  const begin = () => {
    setActions([])
    setFrom(path)
    onRecord(true)
  }
  return (
    <section aria-label="Recorded" className="border-t border-line px-4 py-4">
      <h2 className="text-[17px]">{preview.recording ? 'Recording' : 'Steps that must work'}</h2>
      {!preview.recording && actions.length === 0 && (
        <p className="mt-1 text-soft">
          Do on the page what must go on working, and say what must be seen then. Every rehearsal does the same.
        </p>
      )}
      {preview.recording && actions.length === 0 && (
        <p className="mt-1 text-soft">Whatever you press, type or choose on the page is noted here.</p>
      )}
      <ol aria-label="What was done" aria-live="polite" className="mt-1">
        {actions.map((action, n) => (
          <li key={n} className="flex items-baseline gap-2 border-t border-line/60 py-1.5 text-[13.5px] first:border-0">
            <span className="min-w-0 flex-1 wrap-anywhere">{capital(actionWords(action))}</span>
            <button
              type="button"
              aria-label={`Leave out: ${actionWords(action)}`}
              className="self-center text-soft hover:text-ink"
              onClick={() => setActions(actions.filter((_, other) => other !== n))}
            >
              <X size={14} aria-hidden />
            </button>
          </li>
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap gap-2">
        {preview.recording ? (
          <>
            <Button
              aria-pressed={isPicking}
              className="aria-pressed:bg-wash"
              onClick={() => {
                setPicking(true)
                pickExpected(preview)
              }}
            >
              {isPicking ? 'Press what must be seen …' : 'Expect something'}
            </Button>
            <Button
              weight={actions.length > 0 ? 'main' : 'plain'}
              onClick={() => {
                setPicking(false)
                onRecord(false)
                if (actions.length > 0) setKeeping(true)
              }}
            >
              Stop
            </Button>
          </>
        ) : (
          <>
            {actions.length > 0 && (
              <Button weight="main" onClick={() => setKeeping(true)}>
                Keep as a step …
              </Button>
            )}
            <Button onClick={begin}>{actions.length > 0 ? 'Record anew' : 'Record steps'}</Button>
          </>
        )}
      </div>
      {isKeeping && (
        <KeepRecorded
          site={site}
          actions={actions}
          path={from}
          device={preview.device}
          pages={pages}
          onKept={() => {
            setKeeping(false)
            setActions([])
          }}
          onClose={() => setKeeping(false)}
        />
      )}
    </section>
  )
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
