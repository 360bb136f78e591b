import type { FigureWords } from '../figure-words.js'
import { valueAt, type Column, type Line } from '../lines.js'
import { marksOf, type Marks } from '../marks.js'
import { CELL_HEIGHT, CELL_WIDTH } from '../measures.js'
import type { UseWord } from '../sheet.js'
import type { Weighed } from '../weighing.js'
import { shadeOf, type Palette } from './palette.js'

const PADDING = 9
const HATCH_STEP = 6

/** A brush: where to paint, and with which colours. Its digits are all as wide, as this typeface has them by itself. */
export interface Brush {
  canvas: OffscreenCanvasRenderingContext2D
  palette: Palette
}

/** One toll: shade and figure, what is known of use, and what rules do there. */
export function drawCell(
  brush: Brush,
  weighed: Weighed,
  words: FigureWords,
  line: Line,
  column: Column,
  x: number,
  y: number,
): void {
  const { canvas, palette } = brush
  const value = valueAt(weighed, line, column)
  const figure = words.short(value)
  // What the cell would print as nothing is nothing to look at; the figure itself is told on hover.
  const shown = figure !== '' && Number(figure.replaceAll(',', '')) > 0
  const marks = marksOf(weighed, line, column)
  const shade = shown ? shadeOf(palette, value, weighed.most) : null
  if (shade) {
    canvas.fillStyle = shade.ground
    canvas.fillRect(x + 1, y + 1, CELL_WIDTH - 2, CELL_HEIGHT - 2)
  }
  if (marks.live !== undefined && marks.live !== 'keep') hatch(canvas, palette.hatching, x, y)
  const colour = shade?.figure ?? palette.ink
  canvas.fillStyle = shade ? colour : palette.nothing
  if (shown) canvas.fillText(figure, x + CELL_WIDTH - PADDING, y + CELL_HEIGHT / 2 + 1)
  else if (line.type !== 'feature' && marks.lacking !== 'unread')
    canvas.fillText(marks.lacking ? '…' : '·', x + CELL_WIDTH - PADDING, y + CELL_HEIGHT / 2 + 1)
  if (marks.draft !== undefined) dashedEdge(canvas, colour, x, y)
  if (column.opens) {
    canvas.fillStyle = palette.line
    canvas.fillRect(x, y, 1, CELL_HEIGHT)
  }
  drawUse(canvas, marks.use, colour, x, y)
}

function hatch(canvas: OffscreenCanvasRenderingContext2D, colour: string, x: number, y: number): void {
  canvas.save()
  canvas.beginPath()
  canvas.rect(x, y, CELL_WIDTH, CELL_HEIGHT)
  canvas.clip()
  canvas.strokeStyle = colour
  canvas.lineWidth = 1.5
  canvas.beginPath()
  for (let from = -CELL_HEIGHT; from < CELL_WIDTH; from += HATCH_STEP * Math.SQRT2) {
    canvas.moveTo(x + from, y)
    canvas.lineTo(x + from + CELL_HEIGHT, y + CELL_HEIGHT)
  }
  canvas.stroke()
  canvas.restore()
}

function dashedEdge(canvas: OffscreenCanvasRenderingContext2D, colour: string, x: number, y: number): void {
  canvas.strokeStyle = colour
  canvas.lineWidth = 1.5
  canvas.setLineDash([4.5, 3])
  canvas.strokeRect(x + 2.75, y + 2.75, CELL_WIDTH - 5.5, CELL_HEIGHT - 5.5)
  canvas.setLineDash([])
}

/** What is known of use, by shape: a disc, a ring, a square, a bar. The same shapes stand in the particulars. */
function drawUse(canvas: OffscreenCanvasRenderingContext2D, use: UseWord, colour: string, x: number, y: number): void {
  const [left, top, size] = [x + 4, y + 4, 6]
  canvas.fillStyle = canvas.strokeStyle = colour
  canvas.lineWidth = 1.5
  canvas.beginPath()
  const draw: Record<Marks['use'], () => void> = {
    unknown: () => {},
    used: () => {
      canvas.arc(left + size / 2, top + size / 2, size / 2, 0, Math.PI * 2)
      canvas.fill()
    },
    planned: () => {
      canvas.arc(left + size / 2, top + size / 2, size / 2 - 0.75, 0, Math.PI * 2)
      canvas.stroke()
    },
    'works unseen': () => canvas.strokeRect(left + 0.75, top + 0.75, size - 1.5, size - 1.5),
    'not seen': () => canvas.fillRect(left, top + 2.5, size, 1),
  }
  draw[use]()
}
