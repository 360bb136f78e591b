import { Window } from '../parts/window.js'

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
  ['V', 'the far view, and the close one again'],
  ['+ · − · 0', 'nearer, further, the whole (far view)'],
  ['/', 'filter by text'],
  ['Esc', 'select nothing'],
  ['?', 'these keys'],
]

/** What the keyboard does in the ledger. */
export function KeysHelp({ onClose }: { onClose(): void }) {
  return (
    <Window title="Keys of the ledger" width={440} onClose={onClose}>
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
        {KEYS.map(([key, does]) => (
          <div key={key} className="contents">
            <dt className="font-semibold whitespace-nowrap">{key}</dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Window>
  )
}
