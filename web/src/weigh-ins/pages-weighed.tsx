import { X } from 'lucide-react'
import type { Page } from '@unvelt/contract'

const MOST = 6

interface Props {
  pages: readonly Page[]
  chosen: readonly number[]
  onChange(chosen: number[]): void
}

/** Which pages are weighed: a few, each said. */
export function PagesWeighed({ pages, chosen, onChange }: Props) {
  const kinds = [...new Set(pages.map(({ kind }) => kind))]
  return (
    <div className="grid gap-1.5">
      <span className="font-semibold">On which pages</span>
      <div className="flex flex-wrap items-center gap-1.5">
        <ul aria-label="Pages chosen" className="contents">
          {chosen.map((id) => {
            const page = pages.find((each) => each.id === id)
            if (!page) return null
            return (
              <li key={id} className="inline-flex items-center gap-1.5 border border-line bg-sheet py-0.5 pr-1 pl-2">
                {page.title} <span className="text-soft">{page.path}</span>
                <button
                  type="button"
                  aria-label={`Not ${page.title}`}
                  disabled={chosen.length === 1}
                  onClick={() => onChange(chosen.filter((other) => other !== id))}
                  className="inline-flex size-6 items-center justify-center text-soft enabled:hover:text-plum disabled:opacity-40"
                >
                  <X size={14} aria-hidden />
                </button>
              </li>
            )
          })}
        </ul>
        {chosen.length < MOST && (
          <select
            aria-label="Another page"
            value=""
            onChange={(event) => onChange([...chosen, Number(event.target.value)])}
            className="h-8 w-44 border border-line bg-sheet px-2"
          >
            <option value="">another page …</option>
            {kinds.map((kind) => (
              <optgroup key={kind} label={kind}>
                {pages
                  .filter((page) => page.kind === kind && !chosen.includes(page.id))
                  .map(({ id, title, path }) => (
                    <option key={id} value={id}>
                      {title} {path}
                    </option>
                  ))}
              </optgroup>
            ))}
          </select>
        )}
      </div>
    </div>
  )
}
