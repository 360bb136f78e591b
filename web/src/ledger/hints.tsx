import { ChevronDown, ChevronRight } from 'lucide-react'
import { useState } from 'react'
import { KEYS } from './keys-help.js'
import { UseMark } from './use-mark.js'

/** In place of particulars, while nothing is selected: how to select, and what the signs mean. */
export function Hints({ onHelp }: { onHelp(): void }) {
  // Where there is little room it goes to the ledger until somebody asks.
  const [open, setOpen] = useState(false)
  return (
    <div className="h-full overflow-auto px-4 py-3 text-soft max-md:py-2">
      <h2 className="text-[17px] text-ink max-md:hidden">Particulars</h2>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="flex min-h-8 w-full items-center gap-1 text-verdigris md:hidden"
      >
        {open ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
        What can be selected, keys and signs
      </button>
      <div className={open ? '' : 'max-md:hidden'}>
        <p className="mt-2">Select a cell, drag over several, or press the name of an add-on, a page or a kind.</p>
        <dl className="mt-4 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
          {KEYS.filter(([key]) => ['Arrows', 'Shift + arrows', 'Enter', 'L', '/', 'Esc'].includes(key)).map(
            ([key, does]) => (
              <div key={key} className="contents">
                <dt className="whitespace-nowrap text-ink">{key}</dt>
                <dd>{does}</dd>
              </div>
            ),
          )}
        </dl>
        <button type="button" onClick={onHelp} className="mt-1 text-verdigris hover:underline">
          All keys: ?
        </button>
        <h3 className="mt-5 text-[15px] text-ink">Signs</h3>
        <dl className="mt-2 grid grid-cols-[32px_1fr] items-center gap-x-3 gap-y-1.5">
          {(
            [
              ['used', 'seen in use on the page'],
              ['planned', 'meant for later'],
              ['works unseen', 'does its work without showing'],
              ['not seen', 'looked for and not seen in use'],
            ] as const
          ).map(([word, does]) => (
            <div key={word} className="contents">
              <dt className="flex justify-center text-ink">
                <UseMark word={word} inline />
              </dt>
              <dd>{does}</dd>
            </div>
          ))}
          <dt className="hatched h-4" />
          <dd>a live rule unloads it</dd>
          <dt className="h-4 border-[1.5px] border-dashed border-ink" />
          <dd>a draft would</dd>
        </dl>
        <p className="mt-3">Where there is no sign, nothing is known of use.</p>
      </div>
    </div>
  )
}
