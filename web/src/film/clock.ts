import { useEffect, useState } from 'react'

/** How fast a film goes by. */
export const SPEEDS = [1, 0.5, 0.25] as const

/** The moments at which either of two loads shows something new, rising, from the beginning to the end. */
export const momentsOf = (sides: readonly (readonly number[])[], end: number): number[] =>
  [...new Set([0, ...sides.flat(), end])].filter((at) => at >= 0 && at <= end).sort((a, b) => a - b)

export const momentAfter = (moments: readonly number[], at: number): number => moments.find((one) => one > at) ?? at
export const momentBefore = (moments: readonly number[], at: number): number =>
  moments.findLast((one) => one < at) ?? at

/** What is shown at a moment: the last that was painted by then; -1 before anything was. */
export const frameAt = (frames: readonly number[], at: number): number =>
  frames.findLastIndex((painted) => painted <= at)

/** One clock for both: milliseconds since either load began. It stands at its end, and begins anew when it is started there. */
export function useClock(end: number) {
  const [at, setAt] = useState(end)
  const [playing, setPlaying] = useState(false)
  const [speed, setSpeed] = useState<number>(1)
  useEffect(() => {
    if (!playing) return
    let last = performance.now()
    let frame = requestAnimationFrame(function tick(now) {
      const passed = (now - last) * speed
      last = now
      setAt((old) => Math.min(end, old + passed))
      frame = requestAnimationFrame(tick)
    })
    return () => cancelAnimationFrame(frame)
  }, [playing, speed, end])
  const isOver = playing && at >= end
  useEffect(() => {
    if (isOver) setPlaying(false)
  }, [isOver])
  return {
    at,
    playing,
    speed,
    setSpeed,
    goTo: (to: number) => {
      setPlaying(false)
      setAt(to)
    },
    toggle: () => {
      if (!playing && at >= end) setAt(0)
      setPlaying(!playing)
    },
  }
}
