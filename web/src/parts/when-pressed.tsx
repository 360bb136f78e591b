import { cloneElement, Suspense, useState, type KeyboardEvent, type ReactElement, type ReactNode } from 'react'

export interface ButtonProps {
  'aria-haspopup'?: 'menu' | 'dialog'
  'aria-expanded'?: boolean
  onPointerEnter?(): void
  onFocus?(): void
  onClick?(): void
  onKeyDown?(event: KeyboardEvent): void
}

interface WhenPressedProps {
  opens: 'menu' | 'dialog'
  /** Fetches what opens; called as soon as somebody comes near. */
  bring(): Promise<unknown>
  button: ReactElement<ButtonProps>
  /** The same button with what it opens, open. */
  children: ReactNode
}

/** A button of which what it opens comes when it is about to be pressed, and not with the place. */
export function WhenPressed({ opens, bring, button, children }: WhenPressedProps) {
  const [pressed, setPressed] = useState(false)
  const near = () => void bring()
  const waiting = cloneElement(button, {
    'aria-haspopup': opens,
    'aria-expanded': false,
    onPointerEnter: near,
    onFocus: near,
    onClick: () => setPressed(true),
    onKeyDown: (event) => {
      if (opens !== 'menu' || event.key !== 'ArrowDown') return
      event.preventDefault()
      setPressed(true)
    },
  })
  return pressed ? <Suspense fallback={waiting}>{children}</Suspense> : waiting
}
