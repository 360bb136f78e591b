import { useEffect, useRef } from 'react'

/** Keeps the height of what stands at the foot in `--foot`, so that what floats comes to lie above it. */
export function useFootHeight() {
  const foot = useRef<HTMLDivElement>(null)
  useEffect(() => {
    const { style } = document.documentElement
    const watch = new ResizeObserver(([entry]) => style.setProperty('--foot', `${entry!.contentRect.height}px`))
    watch.observe(foot.current!)
    return () => {
      watch.disconnect()
      style.removeProperty('--foot')
    }
  }, [])
  return foot
}
