import { useState } from 'react'
import { rememberedWho } from '../add-ons/change-add-on.js'
import { useRetire } from '../api/retirements.js'
import { dateTime } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'
import type { StepProps } from './step-list.js'

/** Who it belongs to, and what they said. */
export function WordStep({ siteId, sheet: { id, word, finishedAt }, isNow }: StepProps) {
  const retire = useRetire(siteId)
  const [who, setWho] = useState(rememberedWho)
  const [note, setNote] = useState('')
  const onError = (error: Error) => toast.error(error.message)
  if (word)
    return (
      <p>
        {word.who}, {dateTime(word.at)}
        {word.note && <span className="text-soft"> – {word.note}</span>}{' '}
        {finishedAt === null && (
          <Button weight="quiet" onClick={() => retire.mutate({ id, change: { word: '' } }, { onError })}>
            Take back
          </Button>
        )}
      </p>
    )
  if (finishedAt !== null) return null
  return (
    <form
      className="mt-1.5 flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        retire.mutate({ id, change: { word: who.trim(), note: note.trim() } }, { onError })
      }}
    >
      <input
        aria-label="Who says that it may go"
        placeholder="Who says that it may go"
        value={who}
        maxLength={200}
        onChange={(event) => setWho(event.target.value)}
        className="h-8 w-56 border border-line bg-paper px-2"
      />
      <input
        aria-label="What they said"
        placeholder="What they said"
        value={note}
        maxLength={2000}
        onChange={(event) => setNote(event.target.value)}
        className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
      />
      <Button type="submit" weight={isNow ? 'main' : 'plain'} disabled={who.trim() === '' || retire.isPending}>
        It may go
      </Button>
    </form>
  )
}
