import { CELL_HEIGHT, CELL_WIDTH } from './measures.js'
import type { Bounds } from './selection.js'

const THIN = 'color-mix(in srgb, var(--verdigris) 60%, transparent)'
const lines = (direction: string, size: number) =>
  `repeating-linear-gradient(${direction}, transparent 0 ${size - 1}px, ${THIN} ${size - 1}px ${size}px)`

/** A line around the selected rectangle, and thin ones within, for where its edges are out of sight. */
export function SelectedEdge({ bounds: { top, bottom, left, right } }: { bounds: Bounds }) {
  return (
    <div
      className="pointer-events-none absolute"
      style={{
        top: top * CELL_HEIGHT,
        left: left * CELL_WIDTH,
        width: (right - left + 1) * CELL_WIDTH,
        height: (bottom - top + 1) * CELL_HEIGHT,
        boxShadow: 'inset 0 0 0 2.5px var(--verdigris)',
        backgroundImage: `${lines('to bottom', CELL_HEIGHT)}, ${lines('to right', CELL_WIDTH)}`,
      }}
    />
  )
}
