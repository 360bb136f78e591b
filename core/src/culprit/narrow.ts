/** One question that was asked: whether it still breaks with just these changes. */
export interface Tried {
  changes: readonly string[]
  fails: boolean
}

export type NextQuestion =
  /** Whether it breaks with just these is to be found out. */
  | { ask: string[] }
  /** Breaks, and does not without any one of these. */
  | { found: string[] }

type Asking = Generator<string[], string[], boolean>

/**
 * What to ask next to find a smallest set of changes that breaks something: minimal in that with any one of them taken away it
 * does not break. It is worked out from what was answered so far alone, so that a search goes on wherever it was broken off.
 *
 * First the likeliest one alone; then halves, as if there were just one that is guilty, which takes log₂ n answers and one to be
 * sure; where that proves wrong, delta debugging (Zeller and Hildebrandt, Simplifying and Isolating Failure-Inducing Input, 2002),
 * which finds sets that break only together. Nothing is concluded from a set about its subsets: what is left out together with what
 * needs it breaks nothing, and does without.
 *
 * @param suspects The changes, of which all together are known to break it, the likeliest first. Nothing breaks without any.
 * @param lead How many of them are suspected for a reason; the others for none.
 */
export function narrow(suspects: readonly string[], tried: readonly Tried[], lead = 0): NextQuestion {
  const known = new Map(tried.map(({ changes, fails }) => [keyOf(changes), fails]))
  known.set(keyOf([]), false)
  known.set(keyOf(suspects), true)
  const search = searching([...suspects], lead)
  let step = search.next()
  while (!step.done) {
    const answer = known.get(keyOf(step.value))
    if (answer === undefined) return { ask: step.value }
    step = search.next(answer)
  }
  return { found: step.value }
}

const keyOf = (changes: readonly string[]) => JSON.stringify([...changes].sort())

function* searching(suspects: string[], lead: number): Asking {
  if (suspects.length <= 1) return suspects
  const first = suspects.slice(0, 1)
  if (lead > 0 && (yield first)) return first
  const one = yield* bisect(suspects)
  if (yield one) return one
  return yield* deltaDebug(suspects)
}

/** The one that is guilty, if there is just one. */
function* bisect(suspects: string[]): Asking {
  let rest = suspects
  while (rest.length > 1) {
    const half = rest.slice(0, Math.ceil(rest.length / 2))
    rest = (yield half) ? half : rest.slice(half.length)
  }
  return rest
}

/** ddmin of Zeller and Hildebrandt. */
function* deltaDebug(suspects: string[]): Asking {
  let rest = suspects
  let parts = 2
  while (rest.length > 1) {
    const chunks = split(rest, parts)
    const chunk = yield* firstThat(chunks)
    if (chunk) {
      rest = chunk
      parts = 2
      continue
    }
    const without = parts === 2 ? undefined : yield* firstThat(chunks.map((one) => minus(rest, one)))
    if (without) {
      rest = without
      parts = Math.max(parts - 1, 2)
      continue
    }
    if (parts >= rest.length) return rest
    parts = Math.min(2 * parts, rest.length)
  }
  return rest
}

function* firstThat(sets: string[][]): Generator<string[], string[] | undefined, boolean> {
  for (const set of sets) if (yield set) return set
  return undefined
}

function split(list: string[], parts: number): string[][] {
  const chunks: string[][] = []
  for (let n = 0, start = 0; n < parts; n++) {
    const end = start + Math.ceil((list.length - start) / (parts - n))
    chunks.push(list.slice(start, end))
    start = end
  }
  return chunks
}

function minus(list: string[], taken: string[]): string[] {
  const gone = new Set(taken)
  return list.filter((one) => !gone.has(one))
}
