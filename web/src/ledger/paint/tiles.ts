import { CELL_HEIGHT, CELL_WIDTH } from '../measures.js'

/** Cells are painted by the tile: so many come at once, and are not painted again while they only move. */
export const TILE_ROWS = 6
export const TILE_COLUMNS = 8

export interface TileArea {
  key: string
  row: number
  column: number
  rows: number
  columns: number
  /** From the first cell of the matrix, in pixels. */
  left: number
  top: number
}

export interface Span {
  first: number
  last: number
}

/** The tiles that a part of the matrix lies on. Ends are indexes, both within. */
export function tilesFor(rows: Span, columns: Span, count: { rows: number; columns: number }): TileArea[] {
  const tiles: TileArea[] = []
  const from = (at: number, size: number) => Math.max(0, Math.floor(at / size) * size)
  for (let row = from(rows.first, TILE_ROWS); row <= rows.last && row < count.rows; row += TILE_ROWS)
    for (
      let column = from(columns.first, TILE_COLUMNS);
      column <= columns.last && column < count.columns;
      column += TILE_COLUMNS
    )
      tiles.push({
        key: `${row} ${column}`,
        row,
        column,
        rows: Math.min(TILE_ROWS, count.rows - row),
        columns: Math.min(TILE_COLUMNS, count.columns - column),
        left: column * CELL_WIDTH,
        top: row * CELL_HEIGHT,
      })
  return tiles
}

/** How many tiles may be in sight of each other, down and along. */
export interface Slots {
  down: number
  along: number
}

/**
 * So many as these cells lie on, and no fewer than before: while cells move by less than their size, now one more of them is in
 * sight and now one less, and tiles would change their canvases with each of them.
 */
export function slotsOf(rows: Span, columns: Span, before: Slots): Slots {
  const most = ({ first, last }: Span, size: number) => Math.ceil((last - first + 1) / size) + 1
  return {
    down: Math.max(before.down, most(rows, TILE_ROWS)),
    along: Math.max(before.along, most(columns, TILE_COLUMNS)),
  }
}

/**
 * Which canvas a tile is painted on. Tiles that lie so near each other that both may be shown have different ones; one that
 * comes into sight takes that of one that left at the other end.
 */
export const slotFor = ({ row, column }: TileArea, { down, along }: Slots): string =>
  `${(row / TILE_ROWS) % down} ${(column / TILE_COLUMNS) % along}`
