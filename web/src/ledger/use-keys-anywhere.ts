import { useEffect, useEffectEvent } from 'react'

/** Whoever is writing something means the letter, and not the key. */
const isWriting = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))

/** Keys that do the same wherever in the place somebody is. What has been answered already is left alone. */
export function useKeysAnywhere(keys: readonly string[], does: (key: string) => void): void {
  const press = useEffectEvent(does)
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const { key, ctrlKey, metaKey, altKey, target, defaultPrevented } = event
      if (defaultPrevented || ctrlKey || metaKey || altKey || !keys.includes(key) || isWriting(target)) return
      if (document.querySelector('[role=dialog]')) return
      event.preventDefault()
      press(key)
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [keys])
}
