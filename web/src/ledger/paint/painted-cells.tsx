import { memo, useEffect, useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react'
import { lookNow, onLook, type Look } from '../../frame/look.js'
import type { Column, Line } from '../lines.js'
import { CELL_HEIGHT, CELL_WIDTH } from '../measures.js'
import type { Weighed } from '../weighing.js'
import { paintTile, type Painted } from './paint-tile.js'
import { slotFor, slotsOf, tilesFor, type Slots, type Span, type TileArea } from './tiles.js'

/** Tiles that come into sight within so many cells are painted ahead, one a frame. */
const AHEAD = 4

/** A canvas stays where it is until another tile needs it: making and dropping one costs more than painting it. */
interface Shown {
  weighed: Weighed
  lines: readonly Line[]
  columns: readonly Column[]
  slots: Slots
  bySlot: ReadonlyMap<string, TileArea>
}

/**
 * The cells as a picture. Hundreds are in sight and each frame of a scroll brings new ones; as boxes of their own they take
 * a browser longer than a frame lasts. What can be selected and read out lies over it, once the scroll rests.
 */
export const PaintedCells = memo(function PaintedCells({
  rows,
  across,
  ...painted
}: Painted & { rows: Span; across: Span }) {
  const look = useSyncExternalStore(onLook, lookNow)
  const font = useSyncExternalStore(onFonts, fontsNow)
  const tiles = useTiles(rows, across, painted)
  return tiles.map(([slot, area]) => <Tile key={slot} area={area} look={look} font={font} {...painted} />)
})

/** Those in sight at once, those near it one after the other: several in one frame would make it a long one. */
function useTiles(rows: Span, across: Span, { weighed, lines, columns }: Painted): [string, TileArea][] {
  const [shown, show] = useState<Shown>({ weighed, lines, columns, slots: NO_SLOTS, bySlot: NONE })
  const count = { rows: lines.length, columns: columns.length }
  const near = rows.last < 0 ? [] : tilesFor(widened(rows), widened(across), count)
  const inSight = tilesFor(rows, across, count)
  const slots = slotsOf(widened(rows), widened(across), shown.slots)
  const slot = (area: TileArea) => slotFor(area, slots)
  const isGrown = slots.down !== shown.slots.down || slots.along !== shown.slots.along
  // Where all is painted anew, what is in sight comes first.
  const anew = isGrown || shown.weighed !== weighed || shown.lines !== lines || shown.columns !== columns
  const bySlot = new Map(anew ? NONE : shown.bySlot)
  let changed = anew
  for (const area of inSight)
    if (bySlot.get(slot(area))?.key !== area.key) {
      bySlot.set(slot(area), area)
      changed = true
    }
  if (changed) show({ weighed, lines, columns, slots, bySlot })
  const next = near.find((area) => bySlot.get(slot(area))?.key !== area.key)
  const nextKey = next?.key
  useEffect(() => {
    if (!next) return
    // A frame may come before this effect is taken back: where other cells are shown by then, the tile is none of theirs.
    const frame = requestAnimationFrame(() =>
      show((now) => (now === shown ? { ...now, bySlot: new Map(now.bySlot).set(slot(next), next) } : now)),
    )
    return () => cancelAnimationFrame(frame)
    // The tile and its slot follow from its key.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [nextKey, shown])
  return [...bySlot]
}

const NO_SLOTS: Slots = { down: 0, along: 0 }
const NONE: ReadonlyMap<string, TileArea> = new Map()
const widened = ({ first, last }: Span): Span => ({ first: Math.max(0, first - AHEAD), last: last + AHEAD })

interface TileProps extends Painted {
  area: TileArea
  look: Look
  /** Changes when the typefaces have come. */
  font: number
}

const Tile = memo(
  function Tile({ area, look, font, weighed, words, lines, columns }: TileProps) {
    const element = useRef<HTMLCanvasElement>(null)
    const width = area.columns * CELL_WIDTH
    const height = area.rows * CELL_HEIGHT
    useLayoutEffect(() => {
      paintTile(element.current!, area, look, { weighed, words, lines, columns })
      // The area is made anew each time; what it says is all that counts.
      // eslint-disable-next-line react-hooks/exhaustive-deps
    }, [area.key, width, height, look, font, weighed, words, lines, columns])
    return (
      <canvas
        ref={element}
        aria-hidden
        className="pointer-events-none absolute"
        style={{ left: area.left, top: area.top, width, height }}
      />
    )
  },
  (old, now) =>
    old.area.key === now.area.key &&
    old.area.rows === now.area.rows &&
    old.area.columns === now.area.columns &&
    (['look', 'font', 'weighed', 'words', 'lines', 'columns'] as const).every((key) => old[key] === now[key]),
)

let fontsCome = 0
const onFonts = (changed: () => void) => {
  const come = () => {
    fontsCome++
    changed()
  }
  document.fonts.addEventListener('loadingdone', come)
  return () => document.fonts.removeEventListener('loadingdone', come)
}
const fontsNow = () => fontsCome
