import { createHash } from 'node:crypto'
import type { PixelSize } from '@unvelt/core'
import { remakePicture, type RemadeFile } from './remake-picture.js'

const MOST_KEPT = 400
const MOST_KEPT_BYTES = 60e6

const kept = new Map<string, { made: RemadeFile; bytes: number }>()
let keptBytes = 0

/** Makes a picture anew once, on however many pages it is drawn as large and however many addresses it has. */
export async function remadeOnce(
  body: Buffer,
  drawn: PixelSize,
  similarity: number,
): Promise<RemadeFile & { hash: string }> {
  const hash = createHash('sha256').update(body).digest('hex').slice(0, 32)
  const key = `${hash} ${drawn.width} ${drawn.height} ${similarity}`
  const known = kept.get(key)
  if (known) {
    // The last used stay the longest.
    kept.delete(key)
    kept.set(key, known)
    return { hash, ...known.made }
  }
  const made = await remakePicture(body, drawn, similarity)
  const bytes = made.remade.reduce((sum, { content }) => sum + content.length, 0)
  // Another page may have made the same meanwhile.
  keptBytes += bytes - (kept.get(key)?.bytes ?? 0)
  kept.set(key, { made, bytes })
  for (const [old, { bytes: its }] of kept) {
    if (kept.size <= MOST_KEPT && keptBytes <= MOST_KEPT_BYTES) break
    kept.delete(old)
    keptBytes -= its
  }
  return { hash, ...made }
}
