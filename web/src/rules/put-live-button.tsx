import { ChevronUp } from 'lucide-react'
import { Button } from '../parts/button.js'
import { Menu } from '../parts/menu.js'

interface PutLiveButtonProps {
  words: string
  disabled: boolean
  title: string | undefined
  /** Whether its touched pages could go in parts at all. */
  offersParts: boolean
  onPutLive(inParts: boolean): void
}

/** Puts the drafts live; behind its arrow, in parts. */
export function PutLiveButton({ words, disabled, title, offersParts, onPutLive }: PutLiveButtonProps) {
  return (
    <span className="flex">
      <Button
        weight="main"
        disabled={disabled}
        title={title}
        className={offersParts ? 'rounded-r-none' : undefined}
        onClick={() => onPutLive(false)}
      >
        {words}
      </Button>
      {offersParts && (
        <Menu
          align="end"
          side="top"
          className="max-w-90"
          button={
            <Button
              weight="main"
              disabled={disabled}
              aria-label="In parts …"
              className="rounded-l-none border-l-on-verdigris/40 px-1.5!"
            >
              <ChevronUp size={15} aria-hidden />
            </Button>
          }
          entries={[
            {
              name: 'Put live in parts',
              note: 'First on one page of each kind; on the rest when all guards hold there, and taken back else.',
              does: () => onPutLive(true),
            },
          ]}
        />
      )}
    </span>
  )
}
