import { useEffect, useState, type RefObject } from 'react'

/**
 * Whether an element has been in the window; once it has, it stays so.
 * @param share How much of it must have been, from 0 to 1.
 */
export function useSeen(element: RefObject<Element | null>, share = 0): boolean {
  const [seen, setSeen] = useState(false)
  useEffect(() => {
    if (seen || !element.current) return
    const watch = new IntersectionObserver(
      (entries) => {
        if (entries.some(({ isIntersecting }) => isIntersecting)) setSeen(true)
      },
      { threshold: share },
    )
    watch.observe(element.current)
    return () => watch.disconnect()
  }, [seen, element, share])
  return seen
}
