import { useEffect, useRef, type PointerEvent, type RefObject } from 'react'
import { CELL_HEIGHT, CELL_WIDTH, FOOT_HEIGHT, HEAD_HEIGHT, SIDE_WIDTH } from './measures.js'
import type { Corner } from './selection.js'

interface Point {
  /** From the left and the top of what scrolls, in pixels. */
  x: number
  y: number
}

/** The part of the scroller where cells show: names stand at its left, heads above, totals below. */
export interface Window {
  width: number
  height: number
  scrollLeft: number
  scrollTop: number
}

export const isOnCells = ({ x, y }: Point, { width, height }: Window): boolean =>
  x >= SIDE_WIDTH && x <= width && y >= HEAD_HEIGHT && y <= height - FOOT_HEIGHT

/** The cell below a point, or nearest to it where the point lies beyond the cells in sight. */
export function cellNear({ x, y }: Point, window: Window, last: Corner): Corner {
  const clamp = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value))
  const along = clamp(x, SIDE_WIDTH, window.width - 1) + window.scrollLeft - SIDE_WIDTH
  const down = clamp(y, HEAD_HEIGHT, window.height - FOOT_HEIGHT - 1) + window.scrollTop - HEAD_HEIGHT
  return {
    row: clamp(Math.floor(down / CELL_HEIGHT), 0, last.row),
    column: clamp(Math.floor(along / CELL_WIDTH), 0, last.column),
  }
}

/** How far to scroll in a frame, in pixels: not at all over the cells, and the further beyond them the faster. */
export function paceBeyond({ x, y }: Point, { width, height }: Window): Point {
  const pace = (at: number, from: number, to: number) => {
    const beyond = at < from ? at - from : at > to ? at - to : 0
    return Math.sign(beyond) * Math.min(30, Math.ceil(Math.abs(beyond) / 4))
  }
  return { x: pace(x, SIDE_WIDTH, width - 1), y: pace(y, HEAD_HEIGHT, height - FOOT_HEIGHT - 1) }
}

export const windowOf = ({ clientWidth: width, clientHeight: height, scrollLeft, scrollTop }: HTMLElement): Window => ({
  width,
  height,
  scrollLeft,
  scrollTop,
})

export function pointIn(element: HTMLElement, { clientX, clientY }: PointerEvent): Point {
  const { left, top } = element.getBoundingClientRect()
  return { x: clientX - left, y: clientY - top }
}

/** Selecting by dragging. Held beyond an edge of the cells, the matrix scrolls along for as long as the pointer stays there. */
export function useDrag(scroller: RefObject<HTMLElement | null>, last: Corner, onReach: (cell: Corner) => void) {
  const at = useRef<Point | null>(null)
  const frame = useRef(0)
  // What a frame calls is the newest, though the frame was asked for by an older one.
  const newest = useRef({ last, onReach })
  useEffect(() => {
    newest.current = { last, onReach }
  })
  const step = () => {
    const element = scroller.current
    if (!element || !at.current) return
    const by = paceBeyond(at.current, windowOf(element))
    if (by.x !== 0 || by.y !== 0) element.scrollBy(by.x, by.y)
    newest.current.onReach(cellNear(at.current, windowOf(element), newest.current.last))
    frame.current = requestAnimationFrame(step)
  }
  const stop = () => {
    at.current = null
    cancelAnimationFrame(frame.current)
  }
  useEffect(() => stop, [])
  return {
    begin(event: PointerEvent) {
      scroller.current!.setPointerCapture(event.pointerId)
      at.current = pointIn(scroller.current!, event)
      frame.current = requestAnimationFrame(step)
    },
    move(event: PointerEvent) {
      if (at.current) at.current = pointIn(scroller.current!, event)
    },
    stop,
  }
}
