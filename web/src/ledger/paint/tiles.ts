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

/**
 * Which canvas a tile is painted on. Tiles that lie so near each other that both may be shown have different ones; one that
 * comes into sight takes that of one that left at the other end.
 */
export function slotsFor(rows: Span, columns: Span): (tile: TileArea) => string {
  const most = ({ first, last }: Span, size: number) => Math.ceil((last - first + 1) / size) + 1
  const [down, along] = [most(rows, TILE_ROWS), most(columns, TILE_COLUMNS)]
  return ({ row, column }) => `${(row / TILE_ROWS) % down} ${(column / TILE_COLUMNS) % along}`
}
