import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import type { Page } from '@unvelt/contract'
import { plural } from '../figures/format.js'
import { Button } from '../parts/button.js'

const ROW_PX = 26
const HEIGHT_PX = 216

interface PagesByHandProps {
  pages: Page[]
  ids: number[]
  onChange(ids: number[]): void
}

/** Every page with a tick; a few words narrow the list. */
export function PagesByHand({ pages, ids, onChange }: PagesByHandProps) {
  const [text, setText] = useState('')
  const frame = useRef<HTMLDivElement>(null)
  const shown = useMemo(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean)
    return pages.filter(({ title, path, kind }) => {
      const hay = `${title} ${path} ${kind}`.toLowerCase()
      return words.every((word) => hay.includes(word))
    })
  }, [pages, text])
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => frame.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
  })
  const ticked = new Set(ids)
  const toggle = (id: number) => onChange(ticked.has(id) ? ids.filter((other) => other !== id) : [...ids, id])
  return (
    <div className="mt-2">
      <div className="flex items-center gap-2">
        <input
          type="search"
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="Words of title, path or kind"
          aria-label="Narrow the pages"
          className="h-8 min-w-0 flex-1 border border-line bg-paper px-2"
        />
        <Button
          weight="quiet"
          disabled={shown.length === 0}
          onClick={() => onChange([...new Set([...ids, ...shown.map(({ id }) => id)])])}
        >
          Tick {shown.length === pages.length ? 'all' : plural(shown.length, 'page')}
        </Button>
        <Button weight="quiet" disabled={ids.length === 0} onClick={() => onChange([])}>
          None
        </Button>
      </div>
      <div
        ref={frame}
        role="group"
        aria-label="Pages to read"
        className="mt-1 overflow-auto border-y border-line"
        style={{ maxHeight: HEIGHT_PX }}
      >
        <div className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const { id, title, path } = shown[index]!
            return (
              <label
                key={id}
                className="absolute inset-x-0 flex cursor-pointer items-center gap-2 px-1 hover:bg-wash"
                style={{ height: ROW_PX, transform: `translateY(${start}px)` }}
                title={path}
              >
                <input type="checkbox" checked={ticked.has(id)} onChange={() => toggle(id)} />
                <span className="min-w-0 flex-1 truncate">{title}</span>
                <span className="max-w-[45%] truncate text-[12.5px] text-soft">{path}</span>
              </label>
            )
          })}
        </div>
      </div>
      {shown.length === 0 && <p className="pt-1 text-soft">No page has these words.</p>}
    </div>
  )
}
