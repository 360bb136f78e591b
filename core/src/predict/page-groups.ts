import { MEASURES, type Measure } from '../toll/toll.js'
import type { PredictionBasis } from './basis.js'
import { GroupBuilder, SECTION } from './group-builder.js'
import type { OutOfReachBecause } from './reach.js'
import { TakerList } from './takers.js'
import type { Unreached } from './unreached.js'

/**
 * What a page is spared, or gets later, by whatever is said of its add-ons and their files, in a form that is summed and not
 * worked out: its requests, code and times by what has to go before they do. References are numbers: `2 * n` that payer `n` is
 * unloaded by any effect, `2 * n + 1` that it is not run at all (`skip`), from `2 * payers.length` on that a taker takes, and
 * after the takers the nodes.
 */
export interface PageGroups {
  /** Everybody who is charged with anything of the page. */
  payers: string[]
  /** Addresses of files of add-ons, each once. */
  urls: string[]
  /** What can be taken by itself: of each its payer, the effects that take it (`TAKES`), and its address in `urls`, or -1; one after another. */
  takers: number[]
  /**
   * Each goes once in every one of its lists something has gone. Later ones build on earlier ones, unless `isTangled`. Of each the
   * number of its lists, and of each of these its length and its references; one after another.
   */
  nodes: number[]
  nodeCount: number
  /** Some nodes lean on each other, so they have to be gone through until nothing changes. */
  isTangled: boolean
  groups: GroupTable
  /**
   * What would have to go, or to wait, and no mechanism reaches: of each its payer, its address, the place of why in `reasons` (-1:
   * it can be left out), `UNREACHED`, and what it goes with; one after another. It is told as long as that stays.
   */
  unreached: number[]
  reasons: OutOfReachBecause[]
}

/** What goes with each reference. */
export interface GroupTable {
  when: number[]
  /** Of each of `MEASURES` a figure for each group; empty where there is none at all. */
  figures: number[][]
  /** So many of the first are files that the page's HTML asks for, each by its taker: a copy can come in their place. */
  own: number
  /** From here on they are inline code, which stays in the page while it waits. */
  inline: number
}

/**
 * The groups of a page from what decides it in its repeats, each measure from the repeat that stands for it (see `middleRepeats`).
 * Summing them for any effects gives what `predict` gives from the readings (see `PredictionPack`).
 */
export function pageGroups(bases: readonly PredictionBasis[], middle: Record<Measure, number>): PageGroups {
  const repeats = [...new Set(Object.values(middle))]
  const payers = [...new Set(repeats.flatMap((n) => bases[n]!.payers))]
  const takers = new TakerList(payers)
  const builders = repeats.map((n) => new GroupBuilder(bases[n]!, takers))
  const nodes: number[][][] = []
  const sums = [new Map<number, number[]>(), new Map<number, number[]>(), new Map<number, number[]>()]
  const unreached: Unreached[] = []
  let isTangled = false
  builders.forEach((builder, n) => {
    const wanted = MEASURES.map((measure) => middle[measure] === repeats[n])
    builder.build(nodes, (of, when, figures) => {
      // The time that a file's code takes goes with the file; of bytes, only its own are with it.
      const section = of === SECTION.other && sums[SECTION.own]!.has(when) && !hasBytes(figures) ? SECTION.own : of
      const sum = sums[section]!.get(when) ?? new Array<number>(MEASURES.length).fill(0)
      figures.forEach((figure, at) => wanted[at] && (sum[at]! += figure))
      sums[section]!.set(when, sum)
    })
    isTangled ||= builder.isTangled
    if (middle.transferBytes === repeats[n]) unreached.push(...builder.unreached())
  })
  const reasons = [...new Set(unreached.flatMap(({ because }) => because ?? []))]
  return {
    payers,
    urls: takers.urls,
    takers: takers.takers,
    nodes: nodes.flatMap((lists) => [lists.length, ...lists.flatMap((list) => [list.length, ...list])]),
    nodeCount: nodes.length,
    isTangled,
    groups: tableOf(sums.map((sum) => [...sum].filter(([, figures]) => figures.some((figure) => figure !== 0)))),
    unreached: unreached.flatMap(({ payer, url, because, flags, when }) => [
      payer,
      url,
      because === null ? -1 : reasons.indexOf(because),
      flags,
      when,
    ]),
    reasons,
  }
}

const BYTES = (['transferBytes', 'decodedBytes', 'idleBytes'] as const).map((measure) => MEASURES.indexOf(measure))
const hasBytes = (figures: readonly number[]) => BYTES.some((at) => figures[at] !== 0)

function tableOf(sections: [when: number, figures: number[]][][]): GroupTable {
  const rows = sections.flat()
  return {
    when: rows.map(([when]) => when),
    figures: MEASURES.map((_, measure) => {
      const column = rows.map(([, figures]) => figures[measure]!)
      return column.every((figure) => figure === 0) ? [] : column
    }),
    own: sections[0]!.length,
    inline: sections[0]!.length + sections[1]!.length,
  }
}
