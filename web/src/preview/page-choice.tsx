import { useId, useState } from 'react'
import type { Page } from '@unvelt/contract'

interface PageChoiceProps {
  pages: Page[]
  /** The path that is shown. */
  here: string
  onChoose(path: string): void
}

/** The path that is shown; another is typed, or chosen from the pages that are known. */
export function PageChoice({ pages, here, onChoose }: PageChoiceProps) {
  const list = useId()
  /** What is being typed; null while nobody does. */
  const [typed, setTyped] = useState<string | null>(null)
  const known = pages.find(({ path }) => path === here)
  return (
    <form
      className="flex min-w-0 flex-1 items-center gap-3 max-md:w-full max-md:flex-none"
      onSubmit={(event) => {
        event.preventDefault()
        if (typed !== null && typed.trim() !== '') onChoose(typed.trim().replace(/^\/?/, '/'))
        setTyped(null)
      }}
    >
      <input
        aria-label="Page"
        list={list}
        value={typed ?? here}
        onChange={({ target, nativeEvent }) => {
          // A choice from the list comes as one, without keys.
          const isChosen = !(nativeEvent instanceof InputEvent) || nativeEvent.inputType === 'insertReplacementText'
          if (isChosen && pages.some(({ path }) => path === target.value)) {
            onChoose(target.value)
            setTyped(null)
          } else setTyped(target.value)
        }}
        onFocus={({ target }) => target.select()}
        onBlur={() => setTyped(null)}
        className="h-8 w-80 min-w-0 border border-line bg-sheet px-2"
      />
      <datalist id={list}>
        {pages.map(({ id, path, title }) => (
          <option key={id} value={path}>
            {title}
          </option>
        ))}
      </datalist>
      <span className="min-w-0 truncate text-soft">{typed === null ? known?.title : 'Enter goes there'}</span>
    </form>
  )
}
