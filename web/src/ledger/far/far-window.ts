/** The widest and highest that a cell gets in the far view, CSS pixels: from there on the close view says more. */
export const MOST_WIDE = 28
export const MOST_HIGH = 20
/** A step of the wheel or a key. */
export const STEP = 1.4

export interface Room {
  width: number
  height: number
}
export interface Count {
  rows: number
  columns: number
}

/** Which part of the matrix is seen, and how large: cells are so many CSS pixels wide and high, and may be less than one. */
export interface FarWindow {
  /** How much larger than the whole, 1 or more. */
  zoom: number
  /** What lies at the left and upper edge, in cells. */
  column: number
  row: number
}

export const WHOLE: FarWindow = { zoom: 1, column: 0, row: 0 }

/** The size of a cell: all of them fit at a zoom of 1. */
export function cellSize({ width, height }: Room, { rows, columns }: Count, zoom: number): Room {
  const of = (room: number, count: number, most: number) => Math.min(most, (room / Math.max(1, count)) * zoom)
  return { width: of(width, columns, MOST_WIDE), height: of(height, rows, MOST_HIGH) }
}

/** The zoom from which on nothing grows any more. */
export const mostZoom = ({ width, height }: Room, { rows, columns }: Count): number =>
  Math.max(1, (MOST_WIDE * columns) / Math.max(1, width), (MOST_HIGH * rows) / Math.max(1, height))

/** Kept within the matrix: nothing beyond its edges is shown while there is something else to show. */
export function kept({ zoom, column, row }: FarWindow, room: Room, count: Count): FarWindow {
  const within = Math.min(Math.max(1, zoom), mostZoom(room, count))
  // All of it fits; said outright, as a division would leave a last digit to scroll by.
  if (within === 1) return WHOLE
  const cell = cellSize(room, count, within)
  const clamp = (at: number, all: number, seen: number) => Math.min(Math.max(0, at), Math.max(0, all - seen))
  return {
    zoom: within,
    column: clamp(column, count.columns, room.width / cell.width),
    row: clamp(row, count.rows, room.height / cell.height),
  }
}

/** Larger or smaller by a factor, with what lies under a point staying there. */
export function zoomed(
  window: FarWindow,
  factor: number,
  { x, y }: { x: number; y: number },
  room: Room,
  count: Count,
): FarWindow {
  const before = cellSize(room, count, window.zoom)
  const zoom = Math.min(Math.max(1, window.zoom * factor), mostZoom(room, count))
  const after = cellSize(room, count, zoom)
  return kept(
    {
      zoom,
      column: window.column + x / before.width - x / after.width,
      row: window.row + y / before.height - y / after.height,
    },
    room,
    count,
  )
}

/** Moved by so many pixels, as a sheet of paper under the hand. */
export function moved(window: FarWindow, x: number, y: number, room: Room, count: Count): FarWindow {
  const cell = cellSize(room, count, window.zoom)
  return kept({ ...window, column: window.column - x / cell.width, row: window.row - y / cell.height }, room, count)
}

/** Moved by as little as brings a cell into sight. */
export function showing(window: FarWindow, at: { row: number; column: number }, room: Room, count: Count): FarWindow {
  const cell = cellSize(room, count, window.zoom)
  const along = (first: number, seen: number, wanted: number) =>
    wanted < first ? wanted : wanted + 1 > first + seen ? wanted + 1 - seen : first
  return kept(
    {
      ...window,
      column: along(window.column, room.width / cell.width, at.column),
      row: along(window.row, room.height / cell.height, at.row),
    },
    room,
    count,
  )
}

/** The cell under a point; null beside the matrix. */
export function cellUnder(
  { zoom, column, row }: FarWindow,
  { x, y }: { x: number; y: number },
  room: Room,
  count: Count,
): { row: number; column: number } | null {
  const cell = cellSize(room, count, zoom)
  const at = { row: Math.floor(row + y / cell.height), column: Math.floor(column + x / cell.width) }
  return at.row >= 0 && at.row < count.rows && at.column >= 0 && at.column < count.columns ? at : null
}

/** A strip of the picture, device pixels from and to, and the cells that it stands for. */
export interface Band {
  from: number
  to: number
  first: number
  last: number
}

/**
 * How cells fall on pixels: where a cell has a pixel or more it is a strip of its own, with a gap once that is worth it; where
 * several share one, each pixel stands for all of them.
 * @param start What lies at the edge, in cells; `size` of a cell and `length` of the picture in device pixels.
 */
export function bandsOf(start: number, size: number, length: number, count: number): Band[] {
  const bands: Band[] = []
  if (size >= 1) {
    const gap = size >= 4 ? 1 : 0
    for (let n = Math.floor(start); n < count; n++) {
      const from = Math.round((n - start) * size)
      const to = Math.round((n + 1 - start) * size) - gap
      if (from >= length) break
      if (to > 0)
        bands.push({ from: Math.max(0, from), to: Math.min(length, Math.max(to, from + 1)), first: n, last: n })
    }
    return bands
  }
  for (let pixel = 0; pixel < length; pixel++) {
    const first = Math.floor(start + pixel / size)
    const last = Math.min(count - 1, Math.ceil(start + (pixel + 1) / size) - 1)
    if (first >= count) break
    bands.push({ from: pixel, to: pixel + 1, first, last: Math.max(first, last) })
  }
  return bands
}
