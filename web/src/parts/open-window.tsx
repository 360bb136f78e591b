import { X } from 'lucide-react'
import { Dialog } from 'radix-ui'
import type { WindowProps } from './window.js'

/** What a dialog over the place is made of. */
export function OpenWindow({ title, note, width, onClose, children }: WindowProps) {
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/20" />
        <Dialog.Content
          {...(!note && { 'aria-describedby': undefined })}
          className="fixed top-20 left-1/2 z-40 max-w-[94vw] -translate-x-1/2 border border-line bg-sheet px-6 py-5"
          style={{ width }}
        >
          <Dialog.Title className="text-[19px]">{title}</Dialog.Title>
          {note && <Dialog.Description className="mt-1 text-soft">{note}</Dialog.Description>}
          {children}
          <Dialog.Close aria-label="Close" className="absolute top-4 right-4 text-soft hover:text-ink">
            <X size={16} />
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
