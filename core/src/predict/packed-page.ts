import { MEASURES } from '../toll/toll.js'
import { settleLibraries, type PackedLibrary } from './pack-libraries.js'
import type { LighterBy } from './predict.js'
import type { Way } from './said.js'
import { TAKES } from './takers.js'

/** One page of a pack. */
export interface PackedPage {
  id: number
  roster: Roster
  /** Of each taker its payer (place in the roster), what takes it (`TAKES`), and its file's number in the pack, or -1. */
  takerPayers: Int32Array
  takes: Uint8Array
  takerFiles: Int32Array
  /** Number of lists, then of each its length and its references; one node after another. */
  nodes: Int32Array
  nodeCount: number
  isTangled: boolean
  all: PackedGroups
  /** Those that more than one payer's going decides, or a library's. */
  tied: PackedGroups
  /** One after another: payer (place in the roster), file, reason, flags, when. */
  unreached: Int32Array
}

/** Who is charged with anything of a page: most pages of one kind share it, and what follows from it. */
export interface Roster {
  payers: Int32Array
  libraries: PackedLibrary[]
  /** Of what is said now, two for each payer: whether it goes, and whether nothing of it runs. */
  gone: Uint8Array
  /** Of what is said now, what is done with each payer. */
  ways: Uint8Array
  /** Of what is said now: anything is said of any of them; and of any of their files. */
  any: boolean
  anyFile: boolean
  settledFor: Settled | null
}

export interface PackedGroups {
  when: Int32Array
  /** Of each measure of which there is anything, a figure for each group. */
  columns: { measure: number; values: Int32Array | Float64Array }[]
  own: number
  inline: number
}

/** What is said, by numbers of the pack. */
export interface Settled {
  /** Of each payer. */
  ways: Uint8Array
  /** Of each file, -1 where nothing is said of it by itself; null where that is so of all. */
  files: Int8Array | null
  payersOfFiles: ReadonlySet<number>
  lessOfPayer: ReadonlyMap<number, LighterBy>
  lessOfFile: ReadonlyMap<number, LighterBy>
  /** Anything waits. */
  isLater: boolean
}

export const WAYS: Record<Way, number> = {
  stays: 0,
  'leave-out': 1,
  skip: 2,
  hold: 3,
  order: 4,
  'order-end': 5,
  copy: 6,
}
const { 'leave-out': LEFT_OUT, skip: SKIPPED, copy: COPY } = WAYS

/** By the number of a way, which takers it takes away; and which it takes away or makes wait. */
const GONE = Uint8Array.of(0, TAKES.leaveOut, TAKES.skip, 0, 0, 0, 0)
const GONE_OR_LATER = Uint8Array.of(
  0, TAKES.leaveOut, TAKES.skip, TAKES.hold, TAKES.order, TAKES.order | TAKES.orderEnd, 0,
) // prettier-ignore

/** What is done with each payer of a roster, worked out once for what is said. */
function settle(roster: Roster, said: Settled): void {
  const { payers, libraries, gone, ways } = roster
  let any = 0
  let anyFile = false
  for (let n = 0; n < payers.length; n++) {
    const way = said.ways[payers[n]!]!
    any |= way
    ways[n] = way
    gone[2 * n] = way === LEFT_OUT || way === SKIPPED ? 1 : 0
    gone[2 * n + 1] = way === SKIPPED ? 1 : 0
    anyFile ||= said.files !== null && said.payersOfFiles.has(payers[n]!)
  }
  roster.any = any !== 0
  roster.anyFile = anyFile
  roster.settledFor = said
  if (!roster.any || libraries.length === 0) return
  settleLibraries(libraries, gone)
  for (const { at } of libraries) {
    const isKept = ways[at] !== LEFT_OUT && ways[at] !== SKIPPED
    if (gone[2 * at] === 1) ways[at] = gone[2 * at + 1] === 1 ? SKIPPED : LEFT_OUT
    // What was to go and stays for others' sake is left as it is.
    else if (!isKept) ways[at] = WAYS.stays
  }
}

let first: Uint8Array = new Uint8Array(1024)
let second: Uint8Array = new Uint8Array(1024)

/** What is done with one taker. */
const wayOf = (page: PackedPage, said: Settled, taker: number): number => {
  const { roster, takerPayers, takerFiles } = page
  const file = takerFiles[taker]!
  const own = roster.anyFile && file >= 0 ? said.files![file]! : -1
  return own >= 0 ? own : roster.ways[takerPayers[taker]!]!
}

/** @returns whether anything is said on the page. */
export function isSaidOn(page: PackedPage, said: Settled): boolean {
  if (page.roster.settledFor !== said) settle(page.roster, said)
  return page.roster.any || page.roster.anyFile
}

/** Of each reference whether it goes; good until it is asked for again. */
export const goneOn = (page: PackedPage, said: Settled): Uint8Array => (first = fill(page, said, GONE, first))

/** The same, or whether it comes later. */
export const goneOrLaterOn = (page: PackedPage, said: Settled): Uint8Array =>
  (second = fill(page, said, GONE_OR_LATER, second))

function fill(page: PackedPage, said: Settled, takenBy: Uint8Array, before: Uint8Array): Uint8Array {
  const { roster, takes, takerPayers, nodes, nodeCount } = page
  const firstTaker = roster.gone.length
  const firstNode = firstTaker + takes.length
  const gone = before.length < firstNode + nodeCount ? new Uint8Array(2 * (firstNode + nodeCount)) : before
  gone.set(roster.gone)
  if (roster.anyFile)
    for (let taker = 0; taker < takes.length; taker++)
      gone[firstTaker + taker] = (takes[taker]! & takenBy[wayOf(page, said, taker)]!) === 0 ? 0 : 1
  else
    for (let taker = 0; taker < takes.length; taker++)
      gone[firstTaker + taker] = (takes[taker]! & takenBy[roster.ways[takerPayers[taker]!]!]!) === 0 ? 0 : 1
  gone.fill(1, firstNode, firstNode + nodeCount)
  let changed: boolean
  do {
    changed = false
    let at = 0
    for (let node = 0; node < nodeCount; node++) {
      let isGone = 1
      for (let lists = nodes[at++]!; lists > 0; lists--) {
        let hit = 0
        for (let length = nodes[at++]!; length > 0; length--) hit |= gone[nodes[at++]!]!
        isGone &= hit
      }
      if (isGone === gone[firstNode + node]) continue
      gone[firstNode + node] = isGone
      changed = true
    }
  } while (changed && page.isTangled)
  return gone
}

/** Adds what goes of the groups up to some place, once or minus once. */
export function addGone(
  { when, columns }: PackedGroups,
  gone: Uint8Array,
  into: Float64Array,
  times = 1,
  to = when.length,
): void {
  if (picked.length < to) picked = new Int32Array(2 * to)
  let count = 0
  for (let group = 0; group < to; group++) {
    picked[count] = group
    count += gone[when[group]!]!
  }
  for (const { measure, values } of columns) {
    let sum = 0
    for (let n = 0; n < count; n++) sum += values[picked[n]!]!
    into[measure]! += times * sum
  }
}

let picked = new Int32Array(1024)

const LIGHTER = (['transferBytes', 'decodedBytes', 'idleBytes'] as const).map(
  (name) => [MEASURES.indexOf(name), name] as const,
)

/** Adds what copies are lighter by than files that don't go; a copy is at most as much lighter as the file weighs. */
export function addLighter(page: PackedPage, said: Settled, gone: Uint8Array, into: Float64Array): void {
  const { all, roster, takerPayers, takerFiles } = page
  const firstTaker = roster.gone.length
  for (let group = 0; group < all.own; group++) {
    const ref = all.when[group]!
    const taker = ref - firstTaker
    if (gone[ref] === 1 || wayOf(page, said, taker) !== COPY) continue
    const less = said.lessOfFile.get(takerFiles[taker]!) ?? said.lessOfPayer.get(roster.payers[takerPayers[taker]!]!)
    if (!less) continue
    for (const { measure, values } of all.columns) {
      const name = LIGHTER.find(([at]) => at === measure)?.[1]
      if (name) into[measure]! += Math.min(values[group]!, less[name])
    }
  }
}
