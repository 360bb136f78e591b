import { Dialog } from 'radix-ui'
import { X } from 'lucide-react'

export const KEYS: [key: string, does: string][] = [
  ['Arrows', 'move'],
  ['Shift + arrows', 'select a rectangle'],
  ['Ctrl + arrows', 'jump to the edge'],
  ['Page up, Page down', 'a screen further'],
  ['R · P · G', 'the whole row, page, or kind'],
  ['Enter', 'open an add-on, fold a group of rows'],
  ['F', 'fold the kind of page'],
  ['S', 'sort by this page'],
  ['L', 'leave out here'],
  ['O', 'only here'],
  ['H', 'hold'],
  ['E', 'keep'],
  ['Ctrl + C', 'copy what is selected as a table'],
  ['Ctrl + Z', 'take the last thing back'],
  ['/', 'filter by text'],
  ['Esc', 'select nothing'],
  ['?', 'these keys'],
]

/** What the keyboard does in the ledger. */
export function KeysHelp({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-20 left-1/2 z-40 w-[440px] -translate-x-1/2 border border-line bg-sheet px-6 py-5"
        >
          <Dialog.Title className="text-[19px]">Keys of the ledger</Dialog.Title>
          <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
            {KEYS.map(([key, does]) => (
              <div key={key} className="contents">
                <dt className="font-semibold whitespace-nowrap">{key}</dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close aria-label="Close" className="absolute top-4 right-4 text-soft hover:text-ink">
            <X size={16} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
