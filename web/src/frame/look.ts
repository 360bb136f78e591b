import { useSyncExternalStore } from 'react'

export type Look = 'light' | 'dark'
const KEY = 'unvelt.look'
const listeners = new Set<() => void>()

const stored = (): Look => {
  const kept = localStorage.getItem(KEY)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

export function applyStoredLook(): void {
  // The window around a preview is another origin, which is told how Unvelt looks.
  const told = new URLSearchParams(location.search).get('look')
  if (told === 'light' || told === 'dark') localStorage.setItem(KEY, told)
  document.documentElement.dataset.look = stored()
}

export const lookNow = (): Look => (document.documentElement.dataset.look === 'dark' ? 'dark' : 'light')

export function onLook(changed: () => void): () => void {
  listeners.add(changed)
  return () => listeners.delete(changed)
}

/** Light or dark, remembered on this machine. */
export function useLook(): [Look, () => void] {
  const look = useSyncExternalStore(onLook, lookNow)
  const change = () => {
    const next = look === 'light' ? 'dark' : 'light'
    localStorage.setItem(KEY, next)
    document.documentElement.dataset.look = next
    for (const changed of listeners) changed()
  }
  return [look, change]
}
