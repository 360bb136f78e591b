import { ChevronUp } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { Button } from '../parts/button.js'

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
        <DropdownMenu.Root>
          <DropdownMenu.Trigger asChild>
            <Button
              weight="main"
              disabled={disabled}
              aria-label="In parts …"
              className="rounded-l-none border-l-on-verdigris/40 px-1.5!"
            >
              <ChevronUp size={15} aria-hidden />
            </Button>
          </DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content
              align="end"
              side="top"
              sideOffset={6}
              className="z-20 max-w-90 border border-line bg-sheet py-1"
            >
              <DropdownMenu.Item
                className="block cursor-pointer px-3 py-1.5 outline-none data-highlighted:bg-wash"
                onSelect={() => onPutLive(true)}
              >
                Put live in parts
                <span className="block text-[13px] text-soft">
                  First on one page of each kind; on the rest when all guards hold there, and taken back else.
                </span>
              </DropdownMenu.Item>
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
      )}
    </span>
  )
}
