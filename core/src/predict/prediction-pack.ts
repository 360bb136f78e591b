import { MEASURES } from '../toll/toll.js'
import { FileNumbers } from './file-numbers.js'
import { Numbered } from './numbered.js'
import { packGroups } from './pack-groups.js'
import { packedLibraries } from './pack-libraries.js'
import {
  addGone,
  addLighter,
  goneOn,
  goneOrLaterOn,
  isSaidOn,
  WAYS,
  type PackedPage,
  type Roster,
  type Settled,
} from './packed-page.js'
import type { PageGroups } from './page-groups.js'
import type { Said, Saying } from './said.js'
import { TAKES } from './takers.js'
import { UNREACHED, UNREACHED_WIDTH } from './unreached.js'
import type { Dependencies } from './unloading.js'

const { length: WIDTH } = MEASURES
const { 'leave-out': LEFT_OUT, skip: SKIPPED, hold: HELD } = WAYS
const NO_REASON = -1

/** By which effect payers are unloaded. */
export type Unloads = ReadonlyMap<string, 'skip' | 'leave-out'>

/** Figures of one page, one for each of `MEASURES`; good until the next page. */
export type EachPage = (pageId: number, saved: Float64Array, postponed: Float64Array) => void

/**
 * The groups of many pages, ready to be summed for whatever is said: what a rectangle of the ledger would spare is known while it
 * is being drawn. Figures are those of `predict` over the readings, page by page.
 */
export class PredictionPack {
  private readonly payers = new Numbered()
  private readonly reasons = new Numbered()
  private readonly files = new FileNumbers()
  private readonly pages: PackedPage[] = []
  private readonly byId = new Map<number, PackedPage>()
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
  add(id: number, page: PageGroups): void {
    const { payers, urls, takers, groups } = page
    const firstTaker = 2 * payers.length
    const numbers = payers.map((payer) => this.payers.numberOf(payer))
    const count = takers.length / 3
    const takes = Uint8Array.from({ length: count }, (_, n) => takers[3 * n + 1]!)
    const fileOf = (payer: number, url: number) => this.files.numberOf(numbers[payer]!, urls[url]!)
    /** Where among `plain` a group is added up: -1 where more than one decides it, -2 where nobody does. */
    const plainAt = (when: number) => {
      const taker = when - firstTaker
      if (taker >= count) return -1
      const payer = taker < 0 ? when >> 1 : takers[3 * taker]!
      if (this.libraries.has(payers[payer]!)) return -1
      if (taker < 0) return 2 * numbers[payer]! + (when & 1)
      const by = takes[taker]!
      return by & TAKES.leaveOut ? 2 * numbers[payer]! : by & TAKES.skip ? 2 * numbers[payer]! + 1 : -2
    }
    const plain = groups.when.map(plainAt)
    const packed: PackedPage = {
      id,
      roster: this.rosterOf(payers),
      takes,
      takerPayers: Int32Array.from(takes, (_, n) => takers[3 * n]!),
      takerFiles: Int32Array.from(takes, (_, n) =>
        takers[3 * n + 2]! < 0 ? -1 : fileOf(takers[3 * n]!, takers[3 * n + 2]!),
      ),
      nodes: Int32Array.from(page.nodes),
      nodeCount: page.nodeCount,
      isTangled: page.isTangled,
      all: packGroups(groups),
      tied: packGroups(groups, (group) => plain[group] === -1),
      unreached: this.packUnreached(page, fileOf),
    }
    this.pages.push(packed)
    this.byId.set(id, packed)
    plain.forEach((at, group) => at >= 0 && this.addPlain(at, groups.figures, group))
  }

  private packUnreached(
    { unreached, reasons }: PageGroups,
    fileOf: (payer: number, url: number) => number,
  ): Int32Array {
    const numbers = reasons.map((reason) => this.reasons.numberOf(reason))
    const packed = Int32Array.from(unreached)
    for (let at = 0; at < packed.length; at += UNREACHED_WIDTH) {
      packed[at + 1] = fileOf(packed[at]!, packed[at + 1]!)
      if (packed[at + 2]! >= 0) packed[at + 2] = numbers[packed[at + 2]!]!
    }
    return packed
  }

  /** Of each page who is charged with anything of it. */
  *present(on?: ReadonlySet<number>): Generator<{ pageId: number; payers: Set<string> }> {
    for (const { id, roster } of this.pagesOn(on))
      yield { pageId: id, payers: new Set(Array.from(roster.payers, (number) => this.payers.names[number]!)) }
  }

  private pagesOn(on?: ReadonlySet<number>): readonly PackedPage[] {
    return on ? [...on].flatMap((id) => this.byId.get(id) ?? []) : this.pages
  }

  private addPlain(at: number, figures: readonly (readonly number[])[], group: number): void {
    if (this.plain.length < (at + 1) * WIDTH) {
      const grown = new Float64Array(2 * (at + 1) * WIDTH)
      grown.set(this.plain)
      this.plain = grown
    }
    figures.forEach((column, n) => (this.plain[at * WIDTH + n]! += column[group] ?? 0))
  }

  private rosterOf(names: readonly string[]): Roster {
    const payers = Int32Array.from(names, (payer) => this.payers.numberOf(payer))
    const key = payers.join()
    const known = this.rosters.get(key)
    if (known) return known
    const roster: Roster = {
      payers,
      libraries: packedLibraries(names, this.needs, this.libraries),
      gone: new Uint8Array(2 * payers.length),
      ways: new Uint8Array(payers.length),
      any: false,
      anyFile: false,
      settledFor: null,
    }
    this.rosters.set(key, roster)
    return roster
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
    const said = unloading(unloads)
    if (on || each) return this.predict(said, on, each)
    const settled = this.settled(said)
    const sum = new Float64Array(WIDTH)
    for (const [payer, way] of unloads) this.takePlain(payer, way, sum)
    for (const page of this.pages)
      if (page.tied.when.length > 0 && isSaidOn(page, settled)) addGone(page.tied, goneOn(page, settled), sum)
    return sum
  }

  /**
   * What pages are spared by what is said, less what comes instead of files; and what comes later.
   * @returns What is spared, summed over the pages.
   */
  predict(said: Said, on?: ReadonlySet<number>, each?: EachPage): Float64Array {
    const settled = this.settled(said)
    const sum = new Float64Array(WIDTH)
    const saved = new Float64Array(WIDTH)
    const postponed = new Float64Array(WIDTH)
    const hasCopies = settled.lessOfFile.size + settled.lessOfPayer.size > 0
    for (const page of this.pagesOn(on)) {
      saved.fill(0)
      postponed.fill(0)
      if (isSaidOn(page, settled)) {
        const gone = goneOn(page, settled)
        addGone(page.all, gone, saved)
        if (hasCopies) addLighter(page, settled, gone, saved)
        if (settled.isLater) {
          addGone(page.all, goneOrLaterOn(page, settled), postponed, 1, page.all.inline)
          addGone(page.all, gone, postponed, -1, page.all.inline)
        }
        for (let n = 0; n < WIDTH; n++) sum[n]! += saved[n]!
      }
      each?.(page.id, saved, postponed)
    }
    return sum
  }

  /** What would have to go too, or to wait, and no mechanism reaches, page by page. */
  unreached(said: Said, on?: ReadonlySet<number>): { pageId: number; payer: string; url: string; because: string }[] {
    const settled = this.settled(said)
    return this.pagesOn(on).flatMap((page) => {
      const { id: pageId, unreached, roster } = page
      if (unreached.length === 0 || !isSaidOn(page, settled)) return []
      // What goes is worked out once something has to be asked for it: on most pages nothing of whom it is said of is out of reach.
      let gone: Uint8Array | null = null
      let later: Uint8Array | null = null
      const found: { pageId: number; payer: string; url: string; because: string }[] = []
      for (let at = 0; at < unreached.length; at += UNREACHED_WIDTH) {
        const payer = unreached[at]!
        const file = unreached[at + 1]!
        const reason = unreached[at + 2]!
        const flags = unreached[at + 3]!
        const when = unreached[at + 4]!
        // As a file a glued one is somebody else's.
        const own = roster.anyFile && (flags & UNREACHED.isPart) === 0 ? settled.files![file]! : -1
        const way = own >= 0 ? own : roster.ways[payer]!
        const isUnloaded =
          reason !== NO_REASON && (way === LEFT_OUT || (way === SKIPPED && (flags & UNREACHED.evenSkipped) > 0))
        const isHeld = way === HELD && (flags & UNREACHED.staysAtOnce) > 0
        if (!isUnloaded && !isHeld) continue
        if (
          when >= 0 &&
          (isHeld ? (later ??= goneOrLaterOn(page, settled)) : (gone ??= goneOn(page, settled)))[when] === 1
        )
          continue
        found.push({
          pageId,
          payer: this.payers.names[roster.payers[payer]!]!,
          url: this.files.address(file),
          because: isHeld ? CANT_WAIT : this.reasons.names[reason]!,
        })
      }
      return found
    })
  }

  private settled({ addOns, files }: Said): Settled {
    const ways = new Uint8Array(this.payers.names.length)
    const lessOfPayer: [number, NonNullable<Saying['less']>][] = []
    for (const [payer, { way, less }] of addOns) {
      const number = this.payers.known(payer)
      if (number === undefined) continue
      ways[number] = WAYS[way]
      if (less) lessOfPayer.push([number, less])
    }
    const ofFiles = files.size > 0 ? new Int8Array(this.files.count).fill(-1) : null
    const payersOfFiles = new Set<number>()
    const lessOfFile: [number, NonNullable<Saying['less']>][] = []
    for (const [payer, sayings] of files) {
      const number = this.payers.known(payer)
      if (number === undefined) continue
      for (const [file, saying] of this.files.said(number, sayings)) {
        payersOfFiles.add(number)
        ofFiles![file] = WAYS[saying.way]
        if (saying.less) lessOfFile.push([file, saying.less])
      }
    }
    const all = [...addOns.values(), ...[...files.values()].flatMap((sayings) => [...sayings.values()])]
    return {
      ways,
      files: ofFiles,
      payersOfFiles,
      lessOfPayer: new Map(lessOfPayer),
      lessOfFile: new Map(lessOfFile),
      isLater: all.some(({ way }) => way === 'hold' || way === 'order' || way === 'order-end'),
    }
  }

  private takePlain(payer: string, way: 'skip' | 'leave-out', into: Float64Array): void {
    const number = this.payers.known(payer)
    if (number === undefined) return
    for (let n = 0; n < WIDTH; n++) {
      into[n]! += this.plain[2 * number * WIDTH + n] ?? 0
      if (way === 'skip') into[n]! += this.plain[(2 * number + 1) * WIDTH + n] ?? 0
    }
  }
}

const CANT_WAIT = 'it can’t wait there'

const unloading = (unloads: Unloads): Said => ({
  addOns: new Map([...unloads].map(([payer, way]) => [payer, { way }])),
  files: new Map(),
})
