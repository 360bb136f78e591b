import { useSyncExternalStore } from 'react'
import { lazily } from '../parts/lazily.js'
import { toasts } from '../parts/toast.js'

const OpenToasts = lazily(async () => (await import('../parts/open-toasts.js')).OpenToasts)

/** Where things are said in passing; nothing of it is fetched before there is something to say. */
export function Toasts() {
  const areWanted = useSyncExternalStore(toasts.watch, toasts.areWanted)
  return areWanted ? <OpenToasts /> : null
}
