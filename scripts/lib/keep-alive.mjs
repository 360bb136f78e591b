import { join } from 'node:path'
import { startChild } from './child.mjs'
import { ROOT } from './workspace.mjs'

const FIRST_PAUSE_MS = 1_000
const LONGEST_PAUSE_MS = 30_000
/** Who was up for so long is started anew at once. */
const STEADY_MS = 5_000

/**
 * One of our programs, started anew whenever it dies: neither server nor worker loses anything by that, and nobody need be
 * there to notice.
 */
export function keepAlive(name, script, env, { quiet = true, hushed = false, user = {} } = {}) {
  let stopping = false
  let pause = FIRST_PAUSE_MS
  let timer
  let began
  let child
  const start = () => {
    began = Date.now()
    child = startChild(name, join(ROOT, script), env, { quiet, user })
    const mine = child
    void mine.ended.then(({ code, signal }) => {
      if (stopping) return
      pause = Date.now() - began > STEADY_MS ? FIRST_PAUSE_MS : Math.min(2 * pause, LONGEST_PAUSE_MS)
      const last = lastWords(mine.said())
      if (!hushed) console.error(`The ${name} has ended (${signal ?? code})${last && `: ${last}`} Starting it anew.`)
      timer = setTimeout(start, pause)
    })
  }
  start()
  return {
    name,
    get pid() {
      return child.pid
    },
    said: () => child.said(),
    /** Whether it has ended and waits to be started anew. */
    isOver: () => child.isOver(),
    async stop() {
      stopping = true
      clearTimeout(timer)
      await child.stop()
    },
  }
}

/** The last thing that a program said, as a sentence. */
function lastWords(said) {
  const line = said.split('\n').at(-1) ?? ''
  try {
    return `${JSON.parse(line).msg}.`
  } catch {
    return line
  }
}
