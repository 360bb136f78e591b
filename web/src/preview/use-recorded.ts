import { useEffect, useEffectEvent } from 'react'
import type { Preview, SiteStepAction } from '@unvelt/contract'
import { STEP_DOES } from '@unvelt/contract'

const NAME = 'unvelt-step'
const LONGEST = 500

/** What was done on the page, as the recorder in it tells. */
export interface RecordedAction extends SiteStepAction {
  /** It sends a form. */
  sends: boolean
}

/** Hears what is done on the previewed page. The page can say anything, so only what looks like an action is taken. */
export function useRecorded({ address }: Preview, onAction: (action: RecordedAction) => void): void {
  const heard = useEffectEvent(onAction)
  useEffect(() => {
    const listen = ({ origin, data }: MessageEvent<unknown>) => {
      if (origin !== address) return
      const action = readAction((data as Record<string, unknown> | null)?.[NAME])
      if (action) heard(action)
    }
    window.addEventListener('message', listen)
    return () => window.removeEventListener('message', listen)
  }, [address])
}

/** Makes the recorder take the next press for something that is to be expected. */
export function pickExpected({ address }: Preview): void {
  document.querySelector<HTMLIFrameElement>('iframe')?.contentWindow?.postMessage({ [NAME]: 'expect' }, address)
}

function readAction(value: unknown): RecordedAction | null {
  if (typeof value !== 'object' || value === null) return null
  const { do: does, at, text, sends } = value as Record<string, unknown>
  const known = STEP_DOES.find((one) => one === does)
  if (!known || typeof at !== 'string' || at === '' || at.length > LONGEST) return null
  if ((known === 'type' || known === 'choose') && (typeof text !== 'string' || text === '')) return null
  return { do: known, at, ...(typeof text === 'string' && { text: text.slice(0, LONGEST) }), sends: sends === true }
}

/** One more action behind others. Typing on in a field replaces what was typed there. */
export function withAction(actions: readonly RecordedAction[], action: RecordedAction): RecordedAction[] {
  const last = actions.at(-1)
  const isRetyped = last?.do === 'type' && action.do === 'type' && last.at === action.at
  return [...(isRetyped ? actions.slice(0, -1) : actions), action]
}
