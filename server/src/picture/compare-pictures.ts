import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import type { PictureChange } from '@unvelt/core'
import { log } from '../log/log.js'
import type { ToCompare } from './compare-thread.js'

const MOST_MS = 20_000
const MOST_MB = 600
const IDLE_MS = 10_000

/** Tests run on the sources, and threads on what is built of them. */
const PROGRAM = fileURLToPath(new URL('./compare-thread.js', import.meta.url)).replace('/server/src/', '/server/dist/')

let pool: Piscina | null = null

/** Compares a page's pictures in a thread, so that nothing else waits for it. Null where nothing can be said of them. */
export async function comparePictures(pictures: ToCompare): Promise<PictureChange | null> {
  pool ??= new Piscina({
    filename: PROGRAM,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: IDLE_MS,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MB },
    execArgv: [],
    env: {},
  })
  try {
    return (await pool.run(pictures, { signal: AbortSignal.timeout(MOST_MS) })) as PictureChange | null
  } catch (error) {
    log.warn({ part: 'pictures' }, (error as Error).message)
    return null
  }
}

/** Ends the thread, for whoever wants to end himself. */
export async function endComparing(): Promise<void> {
  await pool?.destroy()
  pool = null
}
