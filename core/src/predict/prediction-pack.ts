import { MEASURES } from '../toll/toll.js'
import type { PageGroups } from './page-groups.js'
import type { Dependencies } from './unloading.js'

const { length: WIDTH } = MEASURES

/** One page of a pack, with its payers by their numbers in the pack. */
interface PackedPage {
  id: number
  roster: Roster
  /** Number of lists, then of each its length and its references; one node after another. */
  nodes: Int32Array
  nodeCount: number
  isTangled: boolean
  all: PackedGroups
  /** Those that more than one payer's going decides, or a library's. */
  tied: PackedGroups
  unreached: PageGroups['unreached']
}

/** Who is charged with anything of a page: most pages of one kind share it, and what follows from it. */
interface Roster {
  payers: Int32Array
  libraries: PackedLibrary[]
  /** Of the selection in hand, two for each payer: whether it goes, and whether nothing of it runs. */
  gone: Uint8Array
  /** Of the selection in hand: anybody of them goes. */
  any: boolean
  /** The selection in hand. */
  settledFor: Uint8Array | null
}

interface PackedGroups {
  when: Int32Array
  /** Of each measure of which there is anything, a figure for each group. */
  columns: { measure: number; values: Int32Array | Float64Array }[]
}

/** A library on a page, and who of the page needs it; numbers are places in the page's payers. */
interface PackedLibrary {
  at: number
  neededBy: number[]
  /** Nobody on the page needs it, or only libraries that nobody else needs either. */
  isForItself: boolean
}

/** By which effect payers are unloaded. */
export type Unloads = ReadonlyMap<string, 'skip' | 'leave-out'>

const NOT = 0
const LEFT_OUT = 1
const SKIPPED = 2

/**
 * The groups of many pages, ready to be summed for any payers: what a rectangle of the ledger would spare is known while it is
 * being drawn. Figures are those of `predict` over the readings, page by page.
 */
export class PredictionPack {
  private readonly numbers = new Map<string, number>()
  private readonly pages: PackedPage[] = []
  private readonly rosters = new Map<string, Roster>()
  /** What goes with each payer alone, over all pages: by `2 * number`, and one more where it goes with `skip` only. */
  private plain = new Float64Array(0)

  private readonly needs: Record<string, string[]>
  private readonly libraries: ReadonlySet<string>

  constructor(pages: Iterable<{ id: number; groups: PageGroups }>, { needs, libraries }: Dependencies) {
    this.needs = needs
    this.libraries = new Set(libraries)
    for (const { id, groups } of pages) this.add(id, groups)
  }

  /** One more page. */
  add(id: number, { payers, nodes, isTangled, groups, unreached }: PageGroups): void {
    const isPlain = (when: number) => when < 2 * payers.length && !this.libraries.has(payers[when >> 1]!)
    this.pages.push({
      id,
      roster: this.rosterOf(payers),
      nodes: Int32Array.from(
        nodes.flatMap((lists) => [lists.length, ...lists.flatMap((list) => [list.length, ...list])]),
      ),
      nodeCount: nodes.length,
      isTangled,
      all: packed(groups),
      tied: packed(groups.filter(({ when }) => !isPlain(when))),
      unreached,
    })
    for (const { when, figures } of groups.filter(({ when }) => isPlain(when)))
      this.addPlain(2 * this.numberOf(payers[when >> 1]!) + (when & 1), figures)
  }

  /** Of each page who is charged with anything of it. */
  *present(on?: ReadonlySet<number>): Generator<{ pageId: number; payers: Set<string> }> {
    const names = [...this.numbers.keys()]
    for (const { id, roster } of this.pages)
      if (!on || on.has(id))
        yield { pageId: id, payers: new Set(Array.from(roster.payers, (number) => names[number]!)) }
  }

  private addPlain(at: number, figures: readonly number[]): void {
    if (this.plain.length < (at + 1) * WIDTH) {
      const grown = new Float64Array(2 * (at + 1) * WIDTH)
      grown.set(this.plain)
      this.plain = grown
    }
    figures.forEach((figure, n) => (this.plain[at * WIDTH + n]! += figure))
  }

  private rosterOf(names: readonly string[]): Roster {
    const payers = Int32Array.from(names, (payer) => this.numberOf(payer))
    const key = payers.join()
    const known = this.rosters.get(key)
    if (known) return known
    const libraries = packedLibraries(names, this.needs, this.libraries)
    const roster = { payers, libraries, gone: new Uint8Array(2 * payers.length), any: false, settledFor: null }
    this.rosters.set(key, roster)
    return roster
  }

  private numberOf(payer: string): number {
    const number = this.numbers.get(payer) ?? this.numbers.size
    this.numbers.set(payer, number)
    return number
  }

  /** Ids of its pages, in order. */
  get pageIds(): number[] {
    return this.pages.map(({ id }) => id)
  }

  /**
   * What pages would be spared.
   * @param unloads Payers that would go, and how.
   * @param on Only these pages; all without it.
   * @param each Is given each page's own figures, which are good until it returns.
   * @returns A figure for each of `MEASURES`, summed over the pages.
   */
  spared(
    unloads: Unloads,
    on?: ReadonlySet<number>,
    each?: (pageId: number, figures: Float64Array) => void,
  ): Float64Array {
    const ways = this.waysOf(unloads)
    const sum = new Float64Array(WIDTH)
    const own = new Float64Array(WIDTH)
    if (!on && !each) {
      for (const [payer, way] of unloads) this.takePlain(payer, way, sum)
      for (const page of this.pages) if (page.tied.when.length > 0) addSpared(page, page.tied, ways, sum)
      return sum
    }
    for (const page of this.pages) {
      if (on && !on.has(page.id)) continue
      own.fill(0)
      addSpared(page, page.all, ways, own)
      for (let n = 0; n < WIDTH; n++) sum[n]! += own[n]!
      each?.(page.id, own)
    }
    return sum
  }

  /** What would have to go too and no mechanism reaches, page by page. */
  unreached(
    unloads: Unloads,
    on?: ReadonlySet<number>,
  ): { pageId: number; payer: string; url: string; because: string }[] {
    const ways = this.waysOf(unloads)
    const names = [...this.numbers.keys()]
    const nowhere = new Float64Array(WIDTH)
    return this.pages.flatMap((page) => {
      const { id: pageId, unreached } = page
      const { payers } = page.roster
      if (unreached.length === 0 || (on && !on.has(pageId))) return []
      // What goes is left in the scratch area.
      addSpared(page, page.all, ways, nowhere)
      return unreached.flatMap(({ payer, url, because, evenSkipped, when }) => {
        const way = ways[payers[payer]!]!
        const isMeant = way === LEFT_OUT || (way === SKIPPED && evenSkipped)
        const isGone = when >= 0 && scratch[when] === 1
        return isMeant && !isGone ? [{ pageId, payer: names[payers[payer]!]!, url, because }] : []
      })
    })
  }

  private waysOf(unloads: Unloads): Uint8Array {
    const ways = new Uint8Array(this.numbers.size)
    for (const [payer, way] of unloads) {
      const number = this.numbers.get(payer)
      if (number !== undefined) ways[number] = way === 'skip' ? SKIPPED : LEFT_OUT
    }
    return ways
  }

  private takePlain(payer: string, way: 'skip' | 'leave-out', into: Float64Array): void {
    const number = this.numbers.get(payer)
    if (number === undefined) return
    for (let n = 0; n < WIDTH; n++) {
      into[n]! += this.plain[2 * number * WIDTH + n] ?? 0
      if (way === 'skip') into[n]! += this.plain[(2 * number + 1) * WIDTH + n] ?? 0
    }
  }
}

let scratch = new Uint8Array(1024)

/** Who of a roster goes, worked out once a selection. */
function settle(roster: Roster, ways: Uint8Array): void {
  const { payers, libraries, gone } = roster
  let any = 0
  for (let n = 0; n < payers.length; n++) {
    const way = ways[payers[n]!]!
    any |= way
    gone[2 * n] = way === NOT ? 0 : 1
    gone[2 * n + 1] = way === SKIPPED ? 1 : 0
  }
  roster.any = any !== NOT
  roster.settledFor = ways
  if (roster.any && libraries.length > 0) settleLibraries(libraries, gone)
}

function addSpared(page: PackedPage, { when, columns }: PackedGroups, ways: Uint8Array, into: Float64Array): void {
  const { roster, nodes, nodeCount } = page
  if (roster.settledFor !== ways) settle(roster, ways)
  if (!roster.any) return
  const refs = roster.gone.length
  if (scratch.length < refs + nodeCount) scratch = new Uint8Array(2 * (refs + nodeCount))
  const gone = scratch
  gone.set(roster.gone)
  gone.fill(1, refs, refs + nodeCount)
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
      if (isGone === gone[refs + node]) continue
      gone[refs + node] = isGone
      changed = true
    }
  } while (changed && page.isTangled)
  if (picked.length < when.length) picked = new Int32Array(2 * when.length)
  let count = 0
  for (let group = 0; group < when.length; group++) {
    picked[count] = group
    count += gone[when[group]!]!
  }
  for (const { measure, values } of columns) {
    let sum = 0
    for (let n = 0; n < count; n++) sum += values[picked[n]!]!
    into[measure]! += sum
  }
}

let picked = new Int32Array(1024)

function packed(groups: PageGroups['groups']): PackedGroups {
  const columns = MEASURES.flatMap((_, measure) => {
    const figures = groups.map((group) => group.figures[measure]!)
    if (figures.every((figure) => figure === 0)) return []
    // Half as much to go through wherever whole numbers say it all.
    const isWhole = figures.every((figure) => Number.isInteger(figure) && Math.abs(figure) < 2 ** 31)
    return [{ measure, values: isWhole ? Int32Array.from(figures) : Float64Array.from(figures) }]
  })
  return { when: Int32Array.from(groups, ({ when }) => when), columns }
}

/** The same as `unloading`, over numbers: libraries stay as long as somebody who stays needs them. */
function settleLibraries(libraries: readonly PackedLibrary[], gone: Uint8Array): void {
  const named = libraries.map(({ at }) => (gone[2 * at + 1] === 1 ? SKIPPED : gone[2 * at] === 1 ? LEFT_OUT : NOT))
  for (const { at } of libraries) gone[2 * at] = 1
  const stays = new Uint8Array(libraries.length)
  for (let changed = true; changed;) {
    changed = false
    libraries.forEach(({ at, neededBy, isForItself }, n) => {
      if (stays[n] === 1) return
      if (!(isForItself && named[n] === NOT) && neededBy.every((payer) => gone[2 * payer] === 1)) return
      stays[n] = 1
      gone[2 * at] = gone[2 * at + 1] = 0
      changed = true
    })
  }
  // A library that goes with others goes their way: it is not run only where none of them is.
  const way = libraries.map((_, n) => (stays[n] === 1 ? NOT : named[n]!))
  const place = new Map(libraries.map(({ at }, n) => [at, n]))
  const wayOf = (payer: number) => {
    const library = place.get(payer)
    return library !== undefined
      ? way[library]!
      : gone[2 * payer + 1] === 1
        ? SKIPPED
        : gone[2 * payer] === 1
          ? LEFT_OUT
          : NOT
  }
  for (let changed = true; changed;) {
    changed = false
    libraries.forEach(({ neededBy }, n) => {
      if (stays[n] === 1 || named[n] !== NOT || way[n] === LEFT_OUT) return
      const ways = neededBy.map(wayOf).filter((one) => one !== NOT)
      const now = ways.length === 0 ? NOT : ways.every((one) => one === SKIPPED) ? SKIPPED : LEFT_OUT
      if (now === way[n] || now === NOT) return
      way[n] = now
      changed = true
    })
  }
  libraries.forEach(({ at }, n) => {
    gone[2 * at] = way[n] === NOT ? 0 : 1
    gone[2 * at + 1] = way[n] === SKIPPED ? 1 : 0
  })
}

function packedLibraries(
  payers: readonly string[],
  needs: Record<string, string[]>,
  isLibrary: ReadonlySet<string>,
): PackedLibrary[] {
  const place = new Map(payers.map((payer, n) => [payer, n]))
  const neededBy = new Map<number, Set<number>>()
  payers.forEach((payer, n) => {
    for (const library of Object.hasOwn(needs, payer) ? needs[payer]! : []) {
      const at = place.get(library)
      if (at === undefined || at === n || !isLibrary.has(library)) continue
      neededBy.set(at, (neededBy.get(at) ?? new Set()).add(n))
    }
  })
  const libraries = payers.flatMap((payer, at) => (isLibrary.has(payer) ? [at] : []))
  const reached = new Set(payers.flatMap((payer, n) => (isLibrary.has(payer) && neededBy.has(n) ? [] : [n])))
  for (let changed = true; changed;) {
    changed = false
    for (const at of libraries)
      if (!reached.has(at) && [...(neededBy.get(at) ?? [])].some((needer) => reached.has(needer))) {
        reached.add(at)
        changed = true
      }
  }
  return libraries.map((at) => ({
    at,
    neededBy: [...(neededBy.get(at) ?? [])],
    isForItself: !neededBy.has(at) || !reached.has(at),
  }))
}
