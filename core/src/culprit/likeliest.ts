import type { NextQuestion, Tried } from './narrow.js'

/** Of more, all that two or three of them may do are too many to weigh one by one. */
export const MOST_WEIGHED = 12
/** What is found is right with this probability, if what it was found by is. */
const SURE_ENOUGH = 0.985
/** That many of what breaks it may be guilty, each by itself or all only together. */
const MOST_GUILTY = 3
/** How much likelier it is one that something speaks for. */
const LEAD_ODDS = 50
/** How much likelier one is guilty than two, and two than three. */
const ONE_MORE_ODDS = 4
/** A guard fails this often by itself in as many readings in a row as are called sure. */
const BY_CHANCE = 0.001
/** What is less likely is as good as ruled out; hundreds of such guesses together change no choice. */
const NEGLIGIBLE = 1e-7
/** So many of the likeliest are combined with each other. */
const COMBINED = 5
/** What is found has failed so often in readings of it alone, whatever else speaks for it. */
const LEAST_READINGS = 2

/** Something that may be so: these sets break it, each by itself. */
interface Guess {
  /** Bit n stands for suspect n. */
  sets: number[]
  weight: number
}

/**
 * What to ask next, as `narrow`, for few suspects: everything that one to three of them may do is weighed by what was answered
 * (Bayes; a reading that holds is proof, one that fails may be the guard's own flickering), and that is asked of which the answer tells
 * most (Lindley, On a Measure of the Information Provided by an Experiment, 1956).
 * @param lead How many of the first are suspected for a reason.
 * @param sure In how many readings in a row a guard hardly ever fails by itself.
 * @returns null where nothing of the kind fits what was answered.
 */
export function likeliest(
  suspects: readonly string[],
  tried: readonly Tried[],
  lead: number,
  sure: number,
): NextQuestion | null {
  const bits = new Map(suspects.map((id, n) => [id, 1 << n]))
  const maskOf = (set: readonly string[]) => set.reduce((mask, id) => mask | (bits.get(id) ?? 0), 0)
  const flicker = BY_CHANCE ** (1 / sure)
  const answers = tried.map(({ changes, fails, readings = sure }) => ({ mask: maskOf(changes), fails, readings }))
  const guesses = weighed(guessesOf(suspects.length, lead), answers, flicker)
  if (guesses.length === 0) return null
  const setOf = (mask: number) => suspects.filter((_, n) => (mask & (1 << n)) !== 0)
  const chances = chancesOf(guesses)
  const [best, chance] = [...chances].reduce((likelier, one) => (one[1] > likelier[1] ? one : likelier))
  const whole = maskOf(suspects)
  const held = new Set(answers.flatMap(({ mask, fails }) => (fails ? [] : [mask])))
  const isSettled = (mask: number) => answers.some((one) => one.mask === mask && one.readings >= sure)
  if (chance >= SURE_ENOUGH) {
    const readings = best === whole ? sure : (answers.find(({ mask }) => mask === best)?.readings ?? 0)
    const enough = Math.min(sure, LEAST_READINGS)
    if (readings < enough) return { ask: setOf(best), readings: enough - readings }
    const open = withoutOne(best).find((mask) => mask !== 0 && !held.has(mask))
    if (open === undefined) return { found: setOf(best) }
    return isSettled(open) ? null : { ask: setOf(open), readings: 1 }
  }
  const groups = byFinding(guesses, chances)
  let asked = best
  let most = -1
  for (const mask of questions(guesses, suspects.length, best)) {
    if (mask === 0 || mask === whole || held.has(mask) || isSettled(mask)) continue
    const told = tells(groups, mask, flicker)
    if (told > most + 1e-9) [asked, most] = [mask, told]
  }
  return most <= 1e-6 ? null : { ask: setOf(asked), readings: 1 }
}

/** A set with each one of it taken away. */
const withoutOne = (mask: number) =>
  Array.from({ length: MOST_WEIGHED }, (_, n) => mask & ~(1 << n)).filter((less) => less !== mask)

function doesBreak({ sets }: Guess, mask: number): boolean {
  for (const set of sets) if ((set & mask) === set) return true
  return false
}

function guessesOf(count: number, lead: number): Guess[] {
  const guesses: Guess[] = []
  const grow = (members: number[], weight: number) => {
    if (members.length > 0) {
      const own = members.map((n) => 1 << n)
      guesses.push({ sets: own, weight })
      if (members.length > 1) guesses.push({ sets: [own.reduce((a, b) => a | b)], weight })
    }
    if (members.length === MOST_GUILTY) return
    for (let n = (members.at(-1) ?? -1) + 1; n < count; n++) {
      const odds = n < lead ? LEAD_ODDS : 1
      grow(
        [...members, n],
        members.length === 0 ? odds : (weight * odds * (members.length + 1)) / (ONE_MORE_ODDS * count),
      )
    }
  }
  grow([], 1)
  return guesses
}

/** What still can be, with how likely it is; they add up to 1. */
function weighed(
  guesses: readonly Guess[],
  answers: readonly { mask: number; fails: boolean; readings: number }[],
  flicker: number,
): Guess[] {
  const left = guesses.flatMap((guess) => {
    let { weight } = guess
    for (const { mask, fails, readings } of answers) {
      const breaks = doesBreak(guess, mask)
      if (breaks && !fails) return []
      if (!breaks && fails) weight *= flicker ** readings
    }
    return [{ ...guess, weight }]
  })
  const sum = left.reduce((total, { weight }) => total + weight, 0)
  return left
    .filter(({ weight }) => weight >= NEGLIGIBLE * sum)
    .map((guess) => ({ ...guess, weight: guess.weight / sum }))
}

/** How likely each set is to be one of those that break it. */
function chancesOf(guesses: readonly Guess[]): Map<number, number> {
  const chances = new Map<number, number>()
  for (const { sets, weight } of guesses) for (const set of sets) chances.set(set, (chances.get(set) ?? 0) + weight)
  return chances
}

/** Guesses that come to the same: of each, the likeliest of its sets is what would be found. */
function byFinding(guesses: readonly Guess[], chances: ReadonlyMap<number, number>): Guess[][] {
  const groups = new Map<number, Guess[]>()
  for (const guess of guesses) {
    const found = guess.sets.reduce((best, set) => (chances.get(set)! > chances.get(best)! ? set : best))
    const group = groups.get(found)
    if (group) group.push(guess)
    else groups.set(found, [guess])
  }
  return [...groups.values()]
}

/** What may be worth asking: rows of those that are likeliest to be guilty, all but one of these, and few of them. */
function questions(guesses: readonly Guess[], count: number, best: number): Set<number> {
  const guilt = Array.from({ length: count }, (_, n) => ({ bit: 1 << n, weight: 0 }))
  for (const { sets, weight } of guesses) {
    const all = sets.reduce((mask, set) => mask | set, 0)
    for (const one of guilt) if (all & one.bit) one.weight += weight
  }
  guilt.sort((a, b) => b.weight - a.weight)
  const masks = new Set<number>([best])
  let row = 0
  for (const { bit } of guilt) {
    row |= bit
    masks.add(row).add(bit)
    for (const { bit: other } of guilt.slice(0, COMBINED))
      masks
        .add(row & ~other)
        .add(bit | other)
        .add(row | best)
  }
  return masks
}

/** How much one reading of a set is expected to tell of what would be found: bits of mutual information. */
function tells(groups: readonly Guess[][], mask: number, flicker: number): number {
  let fails = 0
  let within = 0
  for (const group of groups) {
    let weight = 0
    let breaks = 0
    for (const guess of group) {
      weight += guess.weight
      if (doesBreak(guess, mask)) breaks += guess.weight
    }
    const failing = breaks + (weight - breaks) * flicker
    fails += failing
    within += weight * entropy(failing / weight)
  }
  return entropy(fails) - within
}

const entropy = (p: number) => (p <= 0 || p >= 1 ? 0 : -p * Math.log2(p) - (1 - p) * Math.log2(1 - p))
