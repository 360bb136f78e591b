/** Side of a block of a picture, in pixels: what is compared is told by blocks, so that letters and edges don't count apart. */
export const BLOCK_PX = 16
/** So many differing pixels make a block differ: fewer are what smoothing of edges does. */
const LEAST_PIXELS = 4

export interface PictureBlocks {
  across: number
  down: number
  /** 1 for each block in which pixels differ, row by row. */
  differ: Uint8Array
}

/**
 * Blocks of two pictures of one size that differ.
 * @param mask One byte for each pixel, row by row; not 0 where the two differ.
 */
export function pictureBlocks(mask: Uint8Array, width: number, height: number): PictureBlocks {
  const across = Math.ceil(width / BLOCK_PX)
  const down = Math.ceil(height / BLOCK_PX)
  const counts = new Uint16Array(across * down)
  for (let y = 0; y < height; y++) {
    const row = Math.floor(y / BLOCK_PX) * across
    for (let x = 0; x < width; x++) if (mask[y * width + x] !== 0) counts[row + Math.floor(x / BLOCK_PX)]!++
  }
  return { across, down, differ: Uint8Array.from(counts, (n) => (n >= LEAST_PIXELS ? 1 : 0)) }
}

export interface PictureChange {
  /** Share of the blocks that hold still by themselves and differ now, 0 to 1. */
  share: number
  /** Share of all blocks that move by themselves. */
  moving: number
  /** Where it differs: pixels of the picture. */
  boxes: { x: number; y: number; width: number; height: number }[]
}

const MOST_BOXES = 100

export interface ComparedPictures {
  /** Of each picture with rules the blocks that differ from the first one without; at least one. */
  now: readonly PictureBlocks[]
  /** Of each further picture without rules those that differ from the first one without. */
  without: readonly PictureBlocks[]
  /** Of each further picture with rules those that differ from the first one with. */
  withRules: readonly PictureBlocks[]
}

/**
 * What differs beyond what differs by itself; all of one size. What rules do shows in each picture with them, so a block counts only
 * where it differs in all of these, and is the same in all of them: what drifts over a page is seldom in one place each time.
 */
export function pictureChange({ now, without, withRules }: ComparedPictures): PictureChange {
  const { across, down } = now[0]!
  const moves = new Uint8Array(across * down)
  // What moves takes its neighbours with it: its edge is seldom that of a block.
  for (const { differ } of without)
    for (let n = 0; n < differ.length; n++) if (differ[n] === 1) markAround(moves, across, down, n)
  for (const { differ } of withRules) for (let n = 0; n < differ.length; n++) if (differ[n] === 1) moves[n] = 1
  const counts = { still: 0, moving: 0, changed: 0 }
  const changed = new Uint8Array(across * down)
  for (let n = 0; n < changed.length; n++) {
    if (moves[n] === 1) counts.moving++
    else {
      counts.still++
      if (now.every(({ differ }) => differ[n] === 1)) {
        changed[n] = 1
        counts.changed++
      }
    }
  }
  return {
    share: counts.still === 0 ? 0 : counts.changed / counts.still,
    moving: changed.length === 0 ? 0 : counts.moving / changed.length,
    boxes: boxesOf(changed, across, down),
  }
}

function markAround(marks: Uint8Array, across: number, down: number, at: number): void {
  const [column, row] = [at % across, Math.floor(at / across)]
  for (let y = Math.max(0, row - 1); y <= Math.min(down - 1, row + 1); y++)
    for (let x = Math.max(0, column - 1); x <= Math.min(across - 1, column + 1); x++) marks[y * across + x] = 1
}

/** Blocks that touch each other, each group in one box; the largest groups first. */
function boxesOf(marks: Uint8Array, across: number, down: number): PictureChange['boxes'] {
  const left = marks.slice()
  const boxes: (PictureChange['boxes'][number] & { blocks: number })[] = []
  for (let start = 0; start < left.length; start++) {
    if (left[start] === 0) continue
    const waiting = [start]
    left[start] = 0
    let [x1, y1, x2, y2, blocks] = [across, down, 0, 0, 0]
    for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
      const [x, y] = [at % across, Math.floor(at / across)]
      blocks++
      x1 = Math.min(x1, x)
      x2 = Math.max(x2, x)
      y1 = Math.min(y1, y)
      y2 = Math.max(y2, y)
      for (const [dx, dy] of NEIGHBOURS) {
        const [nx, ny] = [x + dx, y + dy]
        if (nx < 0 || ny < 0 || nx >= across || ny >= down || left[ny * across + nx] === 0) continue
        left[ny * across + nx] = 0
        waiting.push(ny * across + nx)
      }
    }
    const [x, y] = [x1 * BLOCK_PX, y1 * BLOCK_PX]
    boxes.push({ x, y, width: (x2 - x1 + 1) * BLOCK_PX, height: (y2 - y1 + 1) * BLOCK_PX, blocks })
  }
  return merged(
    boxes
      .sort((a, b) => b.blocks - a.blocks)
      .slice(0, MOST_BOXES)
      .map(({ blocks: _, ...box }) => box),
  )
}

type Box = PictureChange['boxes'][number]

/** Boxes that overlap are one: frames within frames tell nothing. */
function merged(boxes: readonly Box[]): Box[] {
  const found: Box[] = []
  for (const next of boxes) {
    let box = next
    for (let n = found.findIndex((other) => overlap(other, box)); n >= 0;) {
      box = around(found[n]!, box)
      found.splice(n, 1)
      n = found.findIndex((other) => overlap(other, box))
    }
    found.push(box)
  }
  return found.sort((a, b) => b.width * b.height - a.width * a.height)
}

const overlap = (a: Box, b: Box) =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

function around(a: Box, b: Box): Box {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)]
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  }
}

const NEIGHBOURS = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const
