import { useState } from 'react'

/** A choice that is remembered on this machine. */
export function useRemembered<T>(key: string, standard: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const kept = localStorage.getItem(key)
      return kept === null ? standard : (JSON.parse(kept) as T)
    } catch {
      return standard
    }
  })
  return [
    value,
    (next) => {
      setValue(next)
      localStorage.setItem(key, JSON.stringify(next))
    },
  ]
}
