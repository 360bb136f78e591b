import { lazy, type ReactElement, type ReactNode } from 'react'
import { WhenPressed, type ButtonProps } from './when-pressed.js'

interface Words {
  name: ReactNode
  /** A second line. */
  note?: ReactNode
  /** Leads somewhere or does something, and is not one of the things that the menu lists. */
  isAct?: boolean
}

export type MenuEntry =
  | (Words & { does(): void })
  | (Words & { to: string })
  | (Words & { saves: string })
  | (Words & { value: string })
  /** Is on or off by itself; the menu stays open. */
  | (Words & { checked: boolean; onChecked(on: boolean): void })
  | { line: true }

export interface MenuShape {
  button: ReactElement<ButtonProps>
  entries: MenuEntry[]
  align: 'start' | 'end'
  side?: 'top' | 'bottom'
  /** Of entries with a value, the one that is on, and what is done when another is chosen. */
  value?: string
  onValue?(value: string): void
  className?: string
}

const bring = () => import('./open-menu.js')
const OpenMenu = lazy(async () => ({ default: (await bring()).OpenMenu }))

/** A button with a menu. */
export function Menu(shape: MenuShape) {
  return (
    <WhenPressed opens="menu" bring={bring} button={shape.button}>
      <OpenMenu {...shape} />
    </WhenPressed>
  )
}
