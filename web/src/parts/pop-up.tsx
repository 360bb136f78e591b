import { lazy, type ReactElement, type ReactNode } from 'react'
import { WhenPressed, type ButtonProps } from './when-pressed.js'

export interface PopUpShape {
  button: ReactElement<ButtonProps>
  align: 'start' | 'end'
  label?: string
  className: string
  /** What stands in it; it may close itself. */
  children(close: () => void): ReactNode
}

const bring = () => import('./open-pop-up.js')
const OpenPopUp = lazy(async () => ({ default: (await bring()).OpenPopUp }))

/** A button with a small sheet that opens below it; closed by Esc and by a press beside it. */
export function PopUp({ bringMore, ...shape }: PopUpShape & { bringMore?(): Promise<unknown> }) {
  return (
    <WhenPressed opens="dialog" bring={() => Promise.all([bring(), bringMore?.()])} button={shape.button}>
      <OpenPopUp {...shape} />
    </WhenPressed>
  )
}
