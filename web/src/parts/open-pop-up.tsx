import clsx from 'clsx'
import { Popover } from 'radix-ui'
import { useState } from 'react'
import type { PopUpShape } from './pop-up.js'

/** What a small sheet below a button is made of; it opens as soon as it is there. */
export function OpenPopUp({ button, align, label, className, children }: PopUpShape) {
  const [open, setOpen] = useState(true)
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>{button}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align={align}
          sideOffset={6}
          aria-label={label}
          className={clsx('z-20 border border-line bg-sheet', className)}
        >
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}
