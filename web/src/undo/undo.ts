import { useEffect } from 'react'
import { toast } from '../parts/toast.js'

/** Something that was done and can be taken back, as long as it is not live. */
interface Done {
  what: string
  undo(): Promise<unknown>
}

const MOST = 50
const done: Done[] = []

/** Remembers what was done, says so, and offers to take it back. */
export function didThis(what: string, undo: () => Promise<unknown>): void {
  const entry = { what, undo }
  done.push(entry)
  if (done.length > MOST) done.shift()
  toast(what, { action: { label: 'Undo', onClick: () => void takeBack(entry) }, duration: 6000 })
}

async function takeBack(entry: Done | undefined): Promise<void> {
  if (!entry) return
  const at = done.indexOf(entry)
  if (at < 0) return
  done.splice(at, 1)
  try {
    await entry.undo()
    toast(`Taken back: ${entry.what}`)
  } catch (error) {
    done.splice(at, 0, entry)
    toast.error((error as Error).message)
  }
}

/** Ctrl Z takes the last thing back, unless somebody is writing. */
export function useUndoKey(): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const writing = (event.target as Element).closest('input, textarea, [contenteditable]')
      if (writing || event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey) || event.shiftKey) return
      event.preventDefault()
      if (done.length === 0) toast('There is nothing to take back.')
      else void takeBack(done.at(-1))
    }
    addEventListener('keydown', onKey)
    return () => removeEventListener('keydown', onKey)
  }, [])
}
