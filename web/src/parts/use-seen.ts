import { useEffect, useState, type RefObject } from 'react'

/** Whether an element has been in the window; once it has, it stays so. */
export function useSeen(element: RefObject<Element | null>): boolean {
  const [seen, setSeen] = useState(false)
  useEffect(() => {
    if (seen || !element.current) return
    const watch = new IntersectionObserver((entries) => {
      if (entries.some(({ isIntersecting }) => isIntersecting)) setSeen(true)
    })
    watch.observe(element.current)
    return () => watch.disconnect()
  }, [seen, element])
  return seen
}
