import { useState, type FormEvent } from 'react'
import type { RetirementSheet } from '@unvelt/contract'
import { useRetire } from '../api/retirements.js'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'
import { toast } from '../parts/toast.js'

/** What visitors looked for by its words since it was off: whoever misses something searches for it. */
export function SearchedFor({ siteId, sheet }: { siteId: number; sheet: RetirementSheet }) {
  const { searched, watchWords, lookedAt, finishedAt } = sheet
  const [isOpen, setOpen] = useState(false)
  return (
    <div className="text-[13.5px]">
      {lookedAt && searched.length > 0 && (
        <ul aria-label="Searched for" className="mt-1">
          {searched.map(({ asked, times }) => (
            <li key={asked} className="[overflow-wrap:anywhere]">
              Searched for “{asked}” {plural(times, 'time')}
            </li>
          ))}
        </ul>
      )}
      <p className="flex flex-wrap items-center gap-2 text-soft">
        <span className="[overflow-wrap:anywhere]">
          {watchWords.length === 0
            ? 'Searches on the site are not looked through: its name has no word of its own.'
            : `${lookedAt && searched.length === 0 ? 'Nobody has searched' : 'Searches are looked through'} for ${watchWords.join(', ')}.`}
        </span>
        {finishedAt === null && !isOpen && (
          <Button weight="quiet" onClick={() => setOpen(true)}>
            Other words …
          </Button>
        )}
      </p>
      {isOpen && <Words siteId={siteId} sheet={sheet} onDone={() => setOpen(false)} />}
    </div>
  )
}

function Words({ siteId, sheet, onDone }: { siteId: number; sheet: RetirementSheet; onDone: () => void }) {
  const retire = useRetire(siteId)
  const [text, setText] = useState(sheet.watchWords.join(', '))
  const save = (event: FormEvent) => {
    event.preventDefault()
    const watchWords = text
      .split(',')
      .map((word) => word.trim())
      .filter((word) => word !== '')
    retire.mutate(
      { id: sheet.id, change: { watchWords } },
      { onSuccess: onDone, onError: (error) => toast.error(error.message) },
    )
  }
  return (
    <form onSubmit={save} className="mt-1 flex items-center gap-2">
      <input
        aria-label="Words to look for, with commas between"
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="h-7 w-72 border border-line bg-paper px-1.5"
      />
      <Button type="submit" disabled={retire.isPending}>
        Look for these
      </Button>
      <Button weight="quiet" onClick={onDone}>
        Leave it
      </Button>
    </form>
  )
}
