import {
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
  type KeyboardEvent,
  type PointerEvent,
} from 'react'
import { MEASURE_WORDS, plural } from '../../figures/format.js'
import { lookNow, onLook, type Look } from '../../frame/look.js'
import type { FigureWords } from '../figure-words.js'
import type { Column, Line } from '../lines.js'
import { cellWords } from '../marks.js'
import { paletteNow } from '../paint/palette.js'
import type { Corner, Selection } from '../selection.js'
import type { Weighed } from '../weighing.js'
import { Edge, Kinds, KINDS_HEIGHT, Names } from './far-frame.js'
import { farField, paintFar, pixelOf } from './far-field.js'
import {
  bandsOf,
  cellSize,
  cellUnder,
  kept,
  moved,
  showing,
  STEP,
  WHOLE,
  zoomed,
  type FarWindow,
  type Room,
} from './far-window.js'

/** A press that moves less is a click. */
const STILL_PX = 4

interface FarViewProps {
  weighed: Weighed
  words: FigureWords
  lines: readonly Line[]
  columns: readonly Column[]
  selection: Selection | null
  onSelect(selection: Selection | null): void
  /** The close view, at what is selected. */
  onClose(): void
  /** Any other key. Returns whether it meant something. */
  onKey(key: string): boolean
}

/** The whole ledger on one screen, without figures; the wheel goes nearer, a press selects, a drag moves it. */
export function FarView(props: FarViewProps) {
  const { weighed, words, lines, columns, selection, onSelect, onClose } = props
  const field = useMemo(() => farField(weighed, lines, columns), [weighed, lines, columns])
  const look = useSyncExternalStore(onLook, lookNow)
  const box = useRef<HTMLDivElement>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const room = useRoom(box)
  const count = { rows: field.rows, columns: field.columns }
  const [asked, setWindow] = useState<FarWindow>(WHOLE)
  const [under, setUnder] = useState<Corner | null>(null)
  const drag = useRef<{ x: number; y: number; window: FarWindow; moved: boolean } | null>(null)
  const window = kept(asked, room, count)
  const cell = cellSize(room, count, window.zoom)

  useLayoutEffect(() => {
    if (room.width > 0) paint(canvas.current!, room, look, field, window)
    // The window is made anew each time; what it says is all that counts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [room, look, field, window.zoom, window.column, window.row])

  const pointOf = (event: { clientX: number; clientY: number }) => {
    const { left, top } = canvas.current!.getBoundingClientRect()
    return { x: event.clientX - left, y: event.clientY - top }
  }
  const select = (at: Corner, extend: boolean) =>
    onSelect({ scope: 'cells', anchor: extend && selection ? selection.anchor : at, head: at })

  // The wheel must be kept from scrolling the page, which React's own listener can't.
  const onWheel = useRef<(event: WheelEvent) => void>(() => {})
  useEffect(() => {
    onWheel.current = (event) => {
      event.preventDefault()
      const factor = event.deltaY < 0 ? STEP : 1 / STEP
      setWindow((now) => zoomed(kept(now, room, count), factor, pointOf(event), room, count))
    }
  })
  useEffect(() => {
    const element = canvas.current!
    const listen = (event: WheelEvent) => onWheel.current(event)
    element.addEventListener('wheel', listen, { passive: false })
    return () => element.removeEventListener('wheel', listen)
  }, [])

  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return
    canvas.current!.setPointerCapture(event.pointerId)
    drag.current = { ...pointOf(event), window, moved: false }
  }
  const onPointerMove = (event: PointerEvent) => {
    const point = pointOf(event)
    const from = drag.current
    if (from && Math.abs(point.x - from.x) + Math.abs(point.y - from.y) > STILL_PX) from.moved = true
    if (from?.moved) setWindow(moved(from.window, point.x - from.x, point.y - from.y, room, count))
    else setUnder(cellUnder(window, point, room, count))
  }
  const onPointerUp = (event: PointerEvent) => {
    const wasDrag = drag.current?.moved
    drag.current = null
    if (wasDrag) return
    const at = cellUnder(window, pointOf(event), room, count)
    if (at) select(at, event.shiftKey)
  }

  const nearer = (factor: number) => {
    const head = selection?.head
    const point = head
      ? { x: (head.column + 0.5 - window.column) * cell.width, y: (head.row + 0.5 - window.row) * cell.height }
      : { x: room.width / 2, y: room.height / 2 }
    setWindow(zoomed(window, factor, point, room, count))
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const steps: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    }
    const step = steps[event.key]
    if (step) {
      const from = selection?.head ?? { row: 0, column: 0 }
      const clamp = (value: number, most: number) => Math.max(0, Math.min(most, value))
      const head = selection
        ? { row: clamp(from.row + step[0], field.rows - 1), column: clamp(from.column + step[1], field.columns - 1) }
        : from
      select(head, event.shiftKey)
      setWindow(showing(window, head, room, count))
    } else if (event.key === '+' || event.key === '=') nearer(STEP)
    else if (event.key === '-') nearer(1 / STEP)
    else if (event.key === '0') setWindow(WHOLE)
    else if (event.key === 'Enter') onClose()
    else if (event.key === 'Escape') onSelect(null)
    else if (event.ctrlKey || event.metaKey || event.altKey || !props.onKey(event.key)) return
    event.preventDefault()
  }

  const told = under ?? selection?.head ?? null
  const line = told && lines[told.row]
  const column = told && columns[told.column]
  return (
    <div
      role="application"
      aria-label={`Far view of the ledger, ${MEASURE_WORDS[weighed.measure].name}: ${plural(field.rows, 'row')} of ${plural(field.columns, 'column')}`}
      tabIndex={0}
      onKeyDown={onKeyDown}
      className="flex h-full flex-col bg-paper outline-none focus-visible:ring-2 focus-visible:ring-verdigris focus-visible:ring-inset"
    >
      <div className="flex min-h-8 items-center gap-3 border-b border-line/60 px-4 text-[13px]">
        <span className="min-w-0 flex-1 truncate" aria-live="polite">
          {line && column
            ? cellWords(weighed, words, line, column).join(' · ')
            : 'Nearer by the wheel or +, moved by a drag; press a cell for its particulars.'}
        </span>
        <span className="figures whitespace-nowrap text-soft">
          {window.zoom > 1 ? `${window.zoom.toFixed(1)} times` : 'the whole'}
        </span>
      </div>
      <div
        className="relative min-h-0 flex-1 [--names:168px] max-md:[--names:92px]"
        style={{ paddingLeft: 'var(--names)', paddingTop: KINDS_HEIGHT }}
      >
        <Kinds columns={columns} window={window} width={cell.width} room={room} />
        <Names lines={lines} window={window} height={cell.height} room={room} told={told?.row ?? null} />
        <div ref={box} className="relative h-full w-full overflow-hidden">
          <canvas
            ref={canvas}
            aria-hidden
            className="absolute inset-0 cursor-crosshair touch-none"
            style={{ width: room.width, height: room.height }}
            onPointerDown={onPointerDown}
            onPointerMove={onPointerMove}
            onPointerUp={onPointerUp}
            onPointerLeave={() => setUnder(null)}
            onDoubleClick={onClose}
          />
          {selection && <Edge selection={selection} window={window} cell={cell} />}
        </div>
      </div>
    </div>
  )
}

function useRoom(box: { current: HTMLDivElement | null }): Room {
  const [room, setRoom] = useState<Room>({ width: 0, height: 0 })
  useLayoutEffect(() => {
    const element = box.current!
    const measure = () => setRoom({ width: element.clientWidth, height: element.clientHeight })
    measure()
    const watch = new ResizeObserver(measure)
    watch.observe(element)
    return () => watch.disconnect()
  }, [box])
  return room
}

function paint(
  canvas: HTMLCanvasElement,
  room: Room,
  look: Look,
  field: ReturnType<typeof farField>,
  window: FarWindow,
): void {
  const scale = devicePixelRatio
  const size = { width: Math.round(room.width * scale), height: Math.round(room.height * scale) }
  if (canvas.width !== size.width) canvas.width = size.width
  if (canvas.height !== size.height) canvas.height = size.height
  const cell = cellSize(room, field, window.zoom)
  const palette = paletteNow(look)
  const pixels = paintFar(
    field,
    size,
    [
      bandsOf(window.row, cell.height * scale, size.height, field.rows),
      bandsOf(window.column, cell.width * scale, size.width, field.columns),
    ],
    palette.shades.map(({ ground }) => pixelOf(ground)),
    pixelOf(palette.paper),
  )
  const image = new ImageData(new Uint8ClampedArray(pixels.buffer as ArrayBuffer), size.width, size.height)
  canvas.getContext('2d')!.putImageData(image, 0, 0)
}
