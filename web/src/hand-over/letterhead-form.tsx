import { Button } from '../parts/button.js'
import { chooseFile } from '../parts/choose-file.js'
import { toast } from '../parts/toast.js'
import { markOf, type Letterhead } from './letterhead.js'

/** Whose name stands at the top, and for whom it is. Remembered for the next one. */
export function LetterheadForm({
  letterhead,
  onChange,
}: {
  letterhead: Letterhead
  onChange: (letterhead: Letterhead) => void
}) {
  const takeMark = () =>
    chooseFile('image/png,image/jpeg,image/webp,image/svg+xml', (file) => {
      markOf(file).then(
        (mark) => onChange({ ...letterhead, mark }),
        (error: Error) => toast.error('This mark can’t be used', { description: error.message }),
      )
    })
  return (
    <form
      aria-label="At its top"
      onSubmit={(event) => event.preventDefault()}
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-sheet px-4 py-2"
    >
      <Text label="From" value={letterhead.from} onChange={(from) => onChange({ ...letterhead, from })} />
      <Text label="For" value={letterhead.to} onChange={(to) => onChange({ ...letterhead, to })} />
      <Button onClick={takeMark}>{letterhead.mark ? 'Another mark …' : 'A mark …'}</Button>
      {letterhead.mark && (
        <>
          <img src={letterhead.mark} alt="The mark at its top" className="max-h-7 max-w-32" />
          <Button weight="quiet" onClick={() => onChange({ ...letterhead, mark: '' })}>
            Take it off
          </Button>
        </>
      )}
    </form>
  )
}

const Text = ({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) => (
  <label className="flex items-center gap-2">
    {label}
    <input
      value={value}
      maxLength={120}
      onChange={({ target }) => onChange(target.value)}
      className="h-8 w-56 border border-line bg-paper px-2"
    />
  </label>
)
