import { likeliest, MOST_WEIGHED } from './likeliest.js'

/** One question that was asked: whether it still breaks with just these changes. */
export interface Tried {
  changes: readonly string[]
  fails: boolean
  /** In how many readings; as many as can be wished for where it is not said. */
  readings?: number
}

export type NextQuestion =
  /** Whether it breaks with just these is to be found out, in so many readings: it holds as soon as it does in one of them. */
  | { ask: string[]; readings: number }
  /** Breaks, and does not without any one of these. */
  | { found: string[] }

interface Question {
  set: string[]
  /** Whether so much hangs on it that a failure must be sure. */
  sure: boolean
}
type Asking<Found = string[]> = Generator<Question, Found, boolean>

const perhaps = (set: string[]): Question => ({ set, sure: false })
const surely = (set: string[]): Question => ({ set, sure: true })

/**
 * What to ask next to find a smallest set of changes that breaks something: minimal in that with any one of them taken away it
 * does not break. It is worked out from what was answered so far alone, so that a search goes on wherever it was broken off.
 *
 * Of few, everything that they may do is weighed (see `likeliest`). Of more, or where nothing of that fits, first the likeliest one alone;
 * then halves of the row, which takes log₂ n answers for each that is guilty and one to be sure. What
 * is found so is gone through by delta debugging (Zeller and Hildebrandt, Simplifying and Isolating Failure-Inducing Input, 2002), and
 * so are all where it proves wrong, since nothing can be concluded from a set about its subsets: what is left out together with what needs
 * it breaks nothing, and does without.
 *
 * On the way one reading that fails is believed, though a guard may flicker: what is found is read as often as makes it sure, and if
 * it holds in one of them after all, the search goes on with what it knows then.
 *
 * @param suspects The changes, of which all together are known to break it, the likeliest first. Nothing breaks without any.
 * @param lead How many of them are suspected for a reason; the others for none.
 * @param sure In how many readings what is found must have failed.
 */
export function narrow(suspects: readonly string[], tried: readonly Tried[], lead = 0, sure = 1): NextQuestion {
  const weighed = suspects.length > 1 && suspects.length <= MOST_WEIGHED ? likeliest(suspects, tried, lead, sure) : null
  return weighed ?? byRows(suspects, tried, lead, sure)
}

function byRows(suspects: readonly string[], tried: readonly Tried[], lead: number, sure: number): NextQuestion {
  const known = new Map(
    tried.map(({ changes, fails, readings = sure }) => [keyOf(changes), { fails, readings }] as const),
  )
  known.set(keyOf([]), { fails: false, readings: sure })
  known.set(keyOf(suspects), { fails: true, readings: sure })
  const search = searching([...suspects], lead)
  let step = search.next()
  while (!step.done) {
    const { set, sure: mustBeSure } = step.value
    const answer = known.get(keyOf(set))
    const least = mustBeSure ? sure : 1
    if (!answer) return { ask: set, readings: least }
    if (answer.fails && answer.readings < least) return { ask: set, readings: least - answer.readings }
    step = search.next(answer.fails)
  }
  return { found: step.value }
}

/** The answers with one more. What was asked before and is asked again, to be sure of it, stands once. */
export function withAnswer<T extends Tried>(tried: readonly T[], answer: T): T[] {
  const before = tried.find(({ changes }) => keyOf(changes) === keyOf(answer.changes))
  if (!before) return [...tried, answer]
  const readings = (before.readings ?? 0) + (answer.readings ?? 0)
  return tried.map((one) => (one === before ? { ...answer, readings } : one))
}

const keyOf = (changes: readonly string[]) => JSON.stringify([...changes].sort())

function* searching(suspects: string[], lead: number): Asking {
  if (suspects.length <= 1) return suspects
  const first = suspects.slice(0, 1)
  if (lead > 0 && (yield perhaps(first)) && (yield surely(first))) return first
  const few = yield* byPrefixes(suspects, lead)
  return yield* deltaDebug(few ?? suspects)
}

/**
 * The last one of the shortest row from the front that breaks it is guilty, and the search goes on for what it needs among those
 * before it (Junker, QuickXplain, 2004, with the row halved): k guilty of n take about k log₂ n answers. @returns what breaks it
 * together; undefined where less broke what more did not, so that this went astray.
 */
function* byPrefixes(suspects: string[], lead: number): Asking<string[] | undefined> {
  const guilty: string[] = []
  let end = suspects.length
  // Those that something speaks for are asked for together, before halves.
  let guess = lead > 1 && lead < end ? lead : null
  while (end > 0) {
    let holds = 0
    let breaks = end
    const rowOf = (length: number) => [...guilty, ...suspects.slice(0, length)]
    while (breaks - holds > 1) {
      const middle: number = guess ?? Math.ceil((holds + breaks) / 2)
      guess = null
      if (yield perhaps(rowOf(middle))) breaks = middle
      else holds = middle
    }
    const row = rowOf(breaks)
    guilty.push(suspects[breaks - 1]!)
    if ((yield perhaps([...guilty])) && (yield surely([...guilty]))) return guilty
    // It breaks only together with others, or the row never broke.
    if (!(yield surely(row))) return yield* byPrefixes(suspects, lead)
    end = breaks - 1
  }
  return undefined
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

function* firstThat(sets: string[][]): Asking<string[] | undefined> {
  for (const set of sets) if (yield surely(set)) return set
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
