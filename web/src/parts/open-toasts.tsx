import { useEffect } from 'react'
import { Toaster } from 'sonner'
import { toasts } from './toast.js'

/** What is said in passing, as it looks here. */
export function OpenToasts() {
  useEffect(() => toasts.nowStand(), [])
  return (
    <Toaster
      position="bottom-center"
      // Above the tray, and above the totals that the ledger ends with.
      offset={{ bottom: 'calc(var(--foot, 0px) + 44px)' }}
      toastOptions={{
        classNames: {
          toast: '!rounded-xs !border-line !bg-sheet !text-ink !shadow-none !font-sans',
          description: '!text-soft',
          actionButton: '!rounded-xs !bg-verdigris !text-on-verdigris !font-medium',
        },
      }}
    />
  )
}
