import { useState } from 'react'

export type Look = 'light' | 'dark'
const KEY = 'unvelt.look'

const stored = (): Look => {
  const kept = localStorage.getItem(KEY)
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

export function applyStoredLook(): void {
  document.documentElement.dataset.look = stored()
}

/** Light or dark, remembered on this machine. */
export function useLook(): [Look, () => void] {
  const [look, setLook] = useState(stored)
  const change = () => {
    const next = look === 'light' ? 'dark' : 'light'
    localStorage.setItem(KEY, next)
    document.documentElement.dataset.look = next
    setLook(next)
  }
  return [look, change]
}
