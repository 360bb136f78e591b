import { useState } from 'react'
import type { RehearsedPage } from '@unvelt/contract'
import type { Sides } from './rehearsal-words.js'

const WIDEST = 620
/** Of the window's width, so that the figures beside it keep their lines. */
const WIDEST_SHARE = 0.48

interface PairProps {
  rehearsal: number
  page: RehearsedPage
  sides: Sides
  /** There is nothing to lay it over. */
  isAlone: boolean
}

/** The page without the drafts and with them, one laid over the other, with a slider between and what differs framed. */
export function PicturePair({ rehearsal, page, sides, isAlone }: PairProps) {
  const [share, setShare] = useState(50)
  const [isFramed, setFramed] = useState(true)
  if (!page.picture) return null
  const { width, height } = page.picture
  const shown = Math.round(Math.min(WIDEST, width, WIDEST_SHARE * innerWidth))
  const scale = shown / width
  const address = (side: 'with' | 'without') =>
    `/api/rehearsals/${rehearsal}/pictures/${page.pageId}/${page.lensId}/${side}`
  return (
    <figure className="min-w-0" style={{ width: shown }}>
      <figcaption className="flex items-center gap-3 pb-1.5 text-[13px]">
        {!isAlone && <span className="text-soft">{sides.without}</span>}
        {!isAlone && (
          <input
            type="range"
            min={0}
            max={100}
            value={share}
            onChange={(event) => setShare(Number(event.target.value))}
            aria-label={`How much is shown ${sides.with}`}
            className="min-w-0 flex-1 accent-(--verdigris)"
          />
        )}
        <span className="text-soft">{sides.with}</span>
        {page.boxes.length > 0 && (
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={isFramed} onChange={(event) => setFramed(event.target.checked)} />
            frame what differs
          </label>
        )}
      </figcaption>
      <div
        className="max-h-[430px] overflow-auto border border-line"
        tabIndex={0}
        role="group"
        aria-label="Pictures of the page"
      >
        <div className="relative" style={{ width: shown - 2, height: height * scale }}>
          {!isAlone && (
            <img src={address('without')} alt={`The page ${sides.without}`} className="absolute top-0 left-0 w-full" />
          )}
          <div className="absolute inset-0 bg-sheet" style={{ clipPath: `inset(0 0 0 ${isAlone ? 0 : 100 - share}%)` }}>
            <img src={address('with')} alt={`The page ${sides.with}`} className="absolute top-0 left-0 w-full" />
          </div>
          {!isAlone && (
            <span
              aria-hidden
              className="absolute inset-y-0 w-px bg-verdigris"
              style={{ left: `${Math.min(99.8, 100 - share)}%` }}
            />
          )}
          {isFramed &&
            page.boxes.map((box) => (
              <span
                key={`${box.x} ${box.y}`}
                aria-hidden
                className="absolute border-2 border-plum"
                style={{
                  left: box.x * scale,
                  top: box.y * scale,
                  width: box.width * scale,
                  height: box.height * scale,
                }}
              />
            ))}
        </div>
      </div>
    </figure>
  )
}
