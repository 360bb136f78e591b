import { memo, useEffect, useLayoutEffect, useRef, useState, useSyncExternalStore } from 'react'
import { lookNow, onLook, type Look } from '../../frame/look.js'
import type { FigureWords } from '../figure-words.js'
import type { Column, Line } from '../lines.js'
import { CELL_HEIGHT, CELL_WIDTH } from '../measures.js'
import type { Weighed } from '../weighing.js'
import { drawCell } from './draw-cell.js'
import { paletteNow } from './palette.js'
import { tilesFor, type Span, type TileArea } from './tiles.js'

interface Painted {
  weighed: Weighed
  words: FigureWords
  lines: readonly Line[]
  columns: readonly Column[]
}

/** Tiles that come into sight within so many cells are painted ahead, one a frame. */
const AHEAD = 4

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
  return tiles.map((area) => <Tile key={area.key} area={area} look={look} font={font} {...painted} />)
})

/** Those in sight at once, those near it one after the other: several in one frame would make it a long one. */
function useTiles(rows: Span, across: Span, { weighed, lines, columns }: Painted): TileArea[] {
  const [ahead, paintAhead] = useState<ReadonlySet<string>>(NONE)
  // Where all is painted anew, what is in sight comes first.
  const [last, keep] = useState({ weighed, lines, columns })
  if (last.weighed !== weighed || last.lines !== lines || last.columns !== columns) {
    keep({ weighed, lines, columns })
    paintAhead(NONE)
  }
  const count = { rows: lines.length, columns: columns.length }
  const inSight = new Set(tilesFor(rows, across, count).map(({ key }) => key))
  const near = rows.last < 0 ? [] : tilesFor(widened(rows), widened(across), count)
  const tiles = near.filter(({ key }) => inSight.has(key) || ahead.has(key))
  const next = near.find(({ key }) => !inSight.has(key) && !ahead.has(key))?.key
  const kept = tiles.map(({ key }) => key).join()
  useEffect(() => {
    if (next === undefined) return
    const frame = requestAnimationFrame(() => paintAhead(new Set([...kept.split(','), next])))
    return () => cancelAnimationFrame(frame)
  }, [next, kept])
  return tiles
}

const NONE: ReadonlySet<string> = new Set()
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
      const canvas = element.current!.getContext('2d')!
      const sharpness = devicePixelRatio
      // Setting its size also wipes a canvas.
      element.current!.width = Math.round(width * sharpness)
      element.current!.height = Math.round(height * sharpness)
      canvas.scale(sharpness, sharpness)
      canvas.font = `14px ${getComputedStyle(document.body).fontFamily}`
      canvas.textAlign = 'center'
      canvas.textBaseline = 'middle'
      const brush = { canvas, palette: paletteNow(look), digitWidth: canvas.measureText('0').width }
      for (let row = 0; row < area.rows; row++)
        for (let column = 0; column < area.columns; column++)
          drawCell(
            brush,
            weighed,
            words,
            lines[area.row + row]!,
            columns[area.column + column]!,
            column * CELL_WIDTH,
            row * CELL_HEIGHT,
          )
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
