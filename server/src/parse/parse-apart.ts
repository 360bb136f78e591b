import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import { log } from '../log/log.js'
import type { Questions } from './parse-thread.js'

/** A thread takes no longer over one text, its own beginning included, and no more memory. */
const MOST_MS = 8_000
const MOST_MB = 400
/** Longer texts are not looked at: characters. */
const LONGEST: Record<keyof Questions, number> = {
  style: 4_000_000,
  inline: 20_000_000,
  marks: 20_000_000,
  'svg 0': 2_000_000,
  'svg 1': 2_000_000,
  'svg 3': 2_000_000,
  'short script': 4_000_000,
  'short style': 4_000_000,
  faces: 4_000_000,
  nowhere: 8_000_000,
  'idle functions': 8_000_000,
  cleaned: 8_000_000,
  font: 8_000_000,
}
const IDLE_MS = 30_000

/** Tests run on the sources, and threads on what is built of them. */
const PROGRAM = fileURLToPath(new URL('./parse-thread.js', import.meta.url)).replace('/server/src/', '/server/dist/')

let pool: Piscina | null = null

const threads = (): Piscina =>
  (pool ??= new Piscina({
    filename: PROGRAM,
    minThreads: 0,
    maxThreads: 2,
    idleTimeout: IDLE_MS,
    resourceLimits: { maxOldGenerationSizeMb: MOST_MB },
    // The process may be a test runner with flags of its own.
    execArgv: [],
    env: {},
  }))

/**
 * Takes a text of a site's apart in a thread, so that nothing else waits for it.
 * @returns Null for what is too long, takes too long or too much memory: then nothing is known of it.
 */
export async function parseApart<K extends keyof Questions>(
  kind: K,
  text: string,
  mostMs = MOST_MS,
): Promise<Questions[K]['answer'] | null> {
  if (text.length > LONGEST[kind]) return null
  try {
    const answer: unknown = await threads().run({ kind, text }, { signal: AbortSignal.timeout(mostMs) })
    return answer as Questions[K]['answer']
  } catch (error) {
    log.warn({ part: 'parse', kind, length: text.length }, (error as Error).message)
    return null
  }
}

/** Ends the threads, for whoever wants to end himself. */
export async function endThreads(): Promise<void> {
  await pool?.destroy()
  pool = null
}
