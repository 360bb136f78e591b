import type { ReactNode } from 'react'
import { lazily } from './lazily.js'

export interface WindowProps {
  title: string
  /** A sentence below the title. */
  note?: string
  width: number
  onClose(): void
  children: ReactNode
}

/** A dialog over the place, closed by Esc, by its cross or by a press beside it. It comes when the first one opens. */
export const Window = lazily<WindowProps>(async () => (await import('./open-window.js')).OpenWindow)
