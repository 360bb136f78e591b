/** The sizes of the matrix, in pixels. */
export const CELL_WIDTH = 62
export const CELL_HEIGHT = 30
export const NAME_WIDTH = 190
export const TOTAL_WIDTH = 78
export const SIDE_WIDTH = NAME_WIDTH + TOTAL_WIDTH
export const HEAD_HEIGHT = 158
export const FOOT_HEIGHT = 31
