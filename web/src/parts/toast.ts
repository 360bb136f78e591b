import type { toast as Say } from 'sonner'

// What says something in passing comes with the first thing that is said.

let isWanted = false
const watchers = new Set<() => void>()
let stand: () => void
const standing = new Promise<void>((resolve) => (stand = resolve))

/** For what shows them: whether anything is to be said yet, and that it stands. */
export const toasts = {
  watch(watcher: () => void) {
    watchers.add(watcher)
    return () => void watchers.delete(watcher)
  },
  areWanted: () => isWanted,
  nowStand: () => stand(),
}

type Words = Parameters<typeof Say>
type Way = 'success' | 'error' | 'info' | 'warning'

async function bring(): Promise<typeof Say> {
  const [{ toast }] = await Promise.all([import('sonner'), import('./open-toasts.js')])
  return toast
}
const AFTER_MS = 5_000

/** Fetches what says things when the page has long been there: what is to be said first may be that the server is away. */
export function fetchToastsLater(): void {
  setTimeout(() => void bring().catch(() => {}), AFTER_MS)
}

/** Hands over what says things once they can be seen. */
async function whenStanding(): Promise<typeof Say> {
  // Nothing is drawn before it has been fetched: what can't be must not take the page with it.
  const say = await bring()
  isWanted = true
  for (const watcher of watchers) watcher()
  await standing
  return say
}

const said =
  (way?: Way) =>
  (...words: Words): void =>
    void whenStanding().then(
      (say) => (way ? say[way](...words) : say(...words)),
      // It could not be fetched, which is no reason to say nothing.
      () => alert(String(words[0])),
    )

interface Following<T> {
  loading: string
  /** Milliseconds that what came of it stands. */
  duration?: number
  success(is: T): string
  error(error: Error): string
}

/** Says something in passing, below. */
export const toast = Object.assign(said(), {
  /** Says that something is under way, and how it ended. */
  promise: <T>(sent: Promise<T>, words: Following<T>): void =>
    void whenStanding().then(
      (say) => say.promise(sent, words),
      () =>
        sent.then(
          (is) => alert(words.success(is)),
          (error: Error) => alert(words.error(error)),
        ),
    ),
  success: said('success'),
  error: said('error'),
  info: said('info'),
  warning: said('warning'),
})
