import { useState } from 'react'
import type { AddOn } from '@unvelt/contract'
import { Button } from '../parts/button.js'
import { useChangeAddOn } from './change-add-on.js'

interface Props {
  siteId: number
  addOn: Pick<AddOn, 'slug' | 'name'>
  /** What the question begins as. */
  asks?: string
  onDone(): void
}

/** A question to somebody who would know. */
export function AskForm({ siteId, addOn, asks: first = '', onDone }: Props) {
  const change = useChangeAddOn(siteId)
  const [asks, setAsks] = useState(first)
  const [whom, setWhom] = useState('')
  return (
    <form
      aria-label={`A question about ${addOn.name}`}
      className="mt-2 grid gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (asks.trim()) change.ask(addOn, asks.trim(), whom.trim(), (well) => well && onDone())
      }}
    >
      <textarea
        autoFocus
        aria-label="Question"
        rows={2}
        value={asks}
        placeholder={`Does anybody still need ${addOn.name}?`}
        onChange={(event) => setAsks(event.target.value)}
        className="border border-line bg-paper px-2 py-1"
      />
      <input
        aria-label="Whom to ask"
        value={whom}
        placeholder="Whom to ask"
        onChange={(event) => setWhom(event.target.value)}
        className="h-8 border border-line bg-paper px-2"
      />
      <div className="flex gap-2">
        <Button type="submit" weight="main" disabled={!asks.trim() || change.isPending}>
          Ask
        </Button>
        <Button weight="quiet" onClick={onDone}>
          Not now
        </Button>
      </div>
    </form>
  )
}
