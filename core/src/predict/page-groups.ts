import { NOT_ADDONS } from '../attribution/evidence.js'
import { MEASURES, type Measure, type Toll } from '../toll/toll.js'
import type { AskedBy } from './asking.js'
import type { PredictionBasis } from './basis.js'
import { isCodeInReach, outOfReach, type OutOfReachBecause } from './reach.js'
import { cachedCharges, swaps } from './spared.js'

/**
 * What a page is spared by whichever payers go, in a form that is summed and not worked out: its requests, code and times by
 * what has to go before they do. References are numbers: `2 * n` that payer `n` is unloaded by any effect, `2 * n + 1` that it
 * is not run at all (`skip`), and from `2 * payers.length` on the nodes.
 */
export interface PageGroups {
  /** Everybody who is charged with anything of the page. */
  payers: string[]
  /** Each goes once in every one of its lists something has gone. Later ones build on earlier ones, unless `isTangled`. */
  nodes: number[][][]
  /** Some nodes lean on each other, so they have to be gone through until nothing changes. */
  isTangled: boolean
  /** What goes with each reference: a figure for each of `MEASURES`. */
  groups: { when: number; figures: number[] }[]
  /** What would have to go with a payer and no mechanism reaches, as long as what asks for it (`when`) stays. */
  unreached: Unreached[]
}

export interface Unreached {
  payer: number
  url: string
  because: OutOfReachBecause
  /** Not even where the site doesn't run the add-on. */
  evenSkipped: boolean
  when: number
}

/** What nothing that is known takes away. */
const NEVER = -1

/**
 * The groups of a page from what is kept of its repeats, each measure from the repeat that stands for it (see `middleRepeats`). Summing them for
 * any payers gives what `predict` gives from the readings (see `PredictionPack`).
 */
export function pageGroups(bases: readonly PredictionBasis[], middle: Record<Measure, number>): PageGroups {
  const repeats = [...new Set(Object.values(middle))]
  const payers = [...new Set(repeats.flatMap((n) => bases[n]!.payers))]
  const page: PageGroups = { payers, nodes: [], isTangled: false, groups: [], unreached: [] }
  for (const repeat of repeats) {
    const builder = new GroupBuilder(bases[repeat]!, page)
    builder.build(MEASURES.map((measure) => middle[measure] === repeat))
    if (middle.transferBytes === repeat) page.unreached.push(...builder.unreached())
  }
  const sums = new Map<number, number[]>()
  for (const { when, figures } of page.groups) {
    const sum = sums.get(when)
    if (sum) figures.forEach((figure, n) => (sum[n]! += figure))
    else sums.set(when, [...figures])
  }
  return {
    ...page,
    groups: [...sums]
      .map(([when, figures]) => ({ when, figures }))
      .filter(({ figures }) => figures.some((figure) => figure !== 0)),
  }
}

class GroupBuilder {
  private readonly known = new Map<string, number>()
  private readonly numbers: Map<string, number>
  /** What has to go for each request, address and piece of inline code. */
  private readonly ofRequest: number[] = []
  private readonly ofAddress: number[] = []
  private readonly ofInline: number[]
  private wanted: readonly boolean[] = []

  constructor(
    private readonly basis: PredictionBasis,
    private readonly page: PageGroups,
  ) {
    this.numbers = new Map(page.payers.map((payer, n) => [payer, n]))
    this.ofInline = basis.charges.inline.map((toll, index) => {
      if (toll === null) return NEVER
      return isCodeInReach(basis.isLongCode[index]!, 'leave-out') ? this.unloaded(toll.payer) : this.skipped(toll.payer)
    })
  }

  private unloaded(payer: string): number {
    return 2 * this.numbers.get(payer)!
  }

  private skipped(payer: string): number {
    return 2 * this.numbers.get(payer)! + 1
  }

  build(wanted: readonly boolean[]): void {
    this.wanted = wanted
    this.resolve()
    const { charges } = this.basis
    charges.requests.forEach((tolls, index) => {
      this.add(this.ofRequest[index]!, tolls)
      this.addParts(index, tolls)
    })
    for (const { wentOut, first, fromCache, all } of swaps(this.basis)) {
      const swapped = [...charges.requests[first]!, ...cachedCharges(charges, fromCache).map(negative)]
      this.add(this.and(wentOut.map((index) => this.ofRequest[index]!)), swapped.map(negative))
      this.add(this.and(all.map((index) => this.ofRequest[index]!)), swapped)
    }
    charges.inline.forEach((toll, index) => toll && this.add(this.ofInline[index]!, [toll]))
    for (const { toll, address, inline } of charges.times)
      this.add(address >= 0 ? this.ofAddress[address]! : inline >= 0 ? this.ofInline[inline]! : NEVER, [toll])
    for (const toll of charges.server) this.add(this.skipped(toll.payer), [toll])
  }

  /** What no mechanism reaches of what add-ons are charged with. */
  unreached(): Unreached[] {
    const { requests, asked, isRewritable } = this.basis
    return requests.flatMap((request, index): Unreached[] => {
      if (request.type === 'document' || NOT_ADDONS.includes(request.payer)) return this.unreachedParts(index)
      const { by } = asked.requests[index]!
      const because = outOfReach(request, by, 'leave-out', isRewritable)
      if (because === null) return []
      const evenSkipped = outOfReach(request, by, 'skip', isRewritable) !== null
      const payer = this.numbers.get(request.payer)!
      return [{ payer, url: request.url, because, evenSkipped, when: this.ofRequest[index]! }]
    })
  }

  private unreachedParts(index: number): Unreached[] {
    const { url, isMapped } = this.basis.requests[index]!
    const parts = this.basis.charges.requests[index]!.slice(1)
    const payers = new Set(parts.flatMap(({ payer }) => (NOT_ADDONS.includes(payer) ? [] : [this.numbers.get(payer)!])))
    return [...payers].map((payer) => ({
      payer,
      url,
      because: 'it is a part of a glued file',
      evenSkipped: isMapped,
      when: NEVER,
    }))
  }

  /** Parts of a glued file go where the site glues without them, unless the whole file has gone already. */
  private addParts(index: number, [request, ...parts]: Toll[]): void {
    if (parts.length === 0 || this.basis.requests[index]!.isMapped) return
    const whole = this.ofRequest[index]!
    const nothingLeft = this.and(parts.map(({ payer }) => this.skipped(payer)))
    for (const [when, toll] of [
      ...parts.map((part) => [this.skipped(part.payer), part] as const),
      [nothingLeft, request!] as const,
    ]) {
      this.add(when, [toll])
      this.add(this.and([whole, when]), [negative(toll)])
    }
  }

  private add(when: number, tolls: readonly Toll[]): void {
    if (when === NEVER) return
    const figures = MEASURES.map((measure, n) =>
      this.wanted[n] ? tolls.reduce((sum, toll) => sum + toll[measure], 0) : 0,
    )
    this.page.groups.push({ when, figures })
  }

  /** Goes from what asks to what is asked for; what is left then stands in a circle, or behind one. */
  private resolve(): void {
    const { requests, askers, addressOf } = this.basis.asked
    const dependents = askers.map((): number[] => [])
    const redirects = requests.map((): number[] => [])
    const missing = requests.map(({ needs, redirectedFrom }, index) => {
      for (const address of needs) dependents[address]!.push(index)
      if (redirectedFrom >= 0) redirects[redirectedFrom]!.push(index)
      return needs.length + (redirectedFrom >= 0 ? 1 : 0)
    })
    const missingAskers = askers.map((all) => all.length)
    const ready = requests.flatMap((_, index) => (missing[index] === 0 ? [index] : []))
    const found = (index: number) => {
      missing[index]! -= 1
      if (missing[index] === 0) ready.push(index)
    }
    for (let index = ready.pop(); index !== undefined; index = ready.pop()) {
      this.ofRequest[index] = this.or(this.refsOf(index))
      redirects[index]!.forEach(found)
      const address = addressOf[index]!
      missingAskers[address]! -= 1
      if (missingAskers[address]! > 0) continue
      this.ofAddress[address] = this.and(askers[address]!.map((asker) => this.ofRequest[asker]!))
      dependents[address]!.forEach(found)
    }
    this.resolveCircles()
  }

  private resolveCircles(): void {
    const { requests, askers } = this.basis.asked
    const { nodes, payers } = this.page
    const left = requests.flatMap((_, index) => (this.ofRequest[index] === undefined ? [index] : []))
    if (left.length === 0) return
    this.page.isTangled = true
    const reserve = () => 2 * payers.length + nodes.push([]) - 1
    for (const index of left) this.ofRequest[index] = reserve()
    const addresses = askers.flatMap((_, address) => (this.ofAddress[address] === undefined ? [address] : []))
    for (const address of addresses) this.ofAddress[address] = reserve()
    const at = (ref: number) => nodes[ref - 2 * payers.length]!
    for (const index of left) at(this.ofRequest[index]!).push(this.refsOf(index).filter((ref) => ref !== NEVER))
    for (const address of addresses)
      at(this.ofAddress[address]!).push(
        ...askers[address]!.map((asker) => (this.ofRequest[asker] === NEVER ? [] : [this.ofRequest[asker]!])),
      )
  }

  /** Any one of these going takes the request away. */
  private refsOf(index: number): number[] {
    const { by, needs, needsInline, redirectedFrom } = this.basis.asked.requests[index]!
    return [
      this.taken(index, by),
      ...needs.map((address) => this.ofAddress[address]!),
      ...needsInline.map((inline) => this.ofInline[inline]!),
      ...(redirectedFrom >= 0 ? [this.ofRequest[redirectedFrom]!] : []),
    ]
  }

  private taken(index: number, by: AskedBy): number {
    const { requests, isRewritable } = this.basis
    const request = requests[index]!
    if (request.type === 'document') return NEVER
    if (outOfReach(request, by, 'leave-out', isRewritable) === null) return this.unloaded(request.payer)
    return outOfReach(request, by, 'skip', isRewritable) === null ? this.skipped(request.payer) : NEVER
  }

  private or(refs: readonly number[]): number {
    const { nodes, payers } = this.page
    const flat = new Set<number>()
    for (const ref of refs) {
      if (ref === NEVER) continue
      const clauses = ref >= 2 * payers.length ? nodes[ref - 2 * payers.length]! : []
      if (clauses.length === 1) for (const inner of clauses[0]!) flat.add(inner)
      else flat.add(ref)
    }
    if (flat.size < 2) return [...flat][0] ?? NEVER
    return this.node([[...flat].sort((a, b) => a - b)])
  }

  private and(refs: readonly number[]): number {
    if (refs.includes(NEVER)) return NEVER
    const all = [...new Set(refs)].sort((a, b) => a - b)
    return all.length === 1 ? all[0]! : this.node(all.map((ref) => [ref]))
  }

  private node(clauses: number[][]): number {
    const key = JSON.stringify(clauses)
    let known = this.known.get(key)
    if (known === undefined) {
      known = 2 * this.page.payers.length + this.page.nodes.push(clauses) - 1
      this.known.set(key, known)
    }
    return known
  }
}

function negative(toll: Toll): Toll {
  const result = { ...toll }
  for (const measure of MEASURES) result[measure] = 0 - toll[measure]
  return result
}
