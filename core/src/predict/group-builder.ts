import { NOT_ADDONS } from '../attribution/evidence.js'
import { MEASURES, type Toll } from '../toll/toll.js'
import type { PredictionBasis } from './basis.js'
import { canBeHeld, canBeReordered, isCodeInReach, outOfReach } from './reach.js'
import { cachedCharges, swaps } from './spared.js'
import { TAKES, type TakerList } from './takers.js'
import { UNREACHED, type Unreached } from './unreached.js'

/** What nothing that is known takes away. */
const NEVER = -1

/** Of what a group is: a file of the page's HTML by its own taker, anything else, or inline code. */
export const SECTION = { own: 0, other: 1, inline: 2 } as const

/** Puts figures where they go with a reference. */
export type Put = (section: number, when: number, figures: readonly number[]) => void

/** Makes the groups of one repeat. All repeats of a page have their takers before any of them has nodes. */
export class GroupBuilder {
  isTangled = false
  /** What takes each request by itself. */
  private readonly takerOf: number[]
  private readonly ofInline: number[]
  /** What has to go for each request and address. */
  private readonly ofRequest: number[] = []
  private readonly ofAddress: number[] = []
  private readonly known = new Map<string, number>()
  private nodes: number[][][] = []
  private put: Put = () => undefined

  constructor(
    private readonly basis: PredictionBasis,
    private readonly list: TakerList,
  ) {
    const turns = new Map<string, number>()
    this.takerOf = basis.requests.map((_, index) => this.taken(index, turns))
    this.ofInline = basis.charges.inline.map((toll, index) => {
      if (toll === null) return NEVER
      const isShort = isCodeInReach(basis.isLongCode[index]!, 'leave-out')
      return list.taker(toll.payer, TAKES.skip | TAKES.hold | (isShort ? TAKES.leaveOut : 0), null)
    })
  }

  build(nodes: number[][][], put: Put): void {
    this.nodes = nodes
    this.put = put
    this.resolve()
    const { requests, charges, asked } = this.basis
    charges.requests.forEach((tolls, index) => {
      const isOwn = asked.requests[index]!.by === 'html' && !NOT_ADDONS.includes(requests[index]!.payer)
      this.add(this.ofRequest[index]!, tolls, isOwn ? SECTION.own : SECTION.other)
      this.addParts(index, tolls)
    })
    for (const { wentOut, first, fromCache, all } of swaps(this.basis)) {
      const swapped = [...charges.requests[first]!, ...cachedCharges(charges, fromCache).map(negative)]
      this.add(this.and(wentOut.map((index) => this.ofRequest[index]!)), swapped.map(negative))
      this.add(this.and(all.map((index) => this.ofRequest[index]!)), swapped)
    }
    charges.inline.forEach((toll, index) => toll && this.add(this.ofInline[index]!, [toll], SECTION.inline))
    for (const { toll, address, inline } of charges.times)
      this.add(address >= 0 ? this.ofAddress[address]! : this.ofInline[inline]!, [toll])
    for (const toll of charges.server) this.add(this.skipped(toll.payer), [toll])
  }

  /** What no mechanism reaches of what add-ons are charged with. */
  unreached(): Unreached[] {
    const { requests, asked, isRewritable } = this.basis
    return requests.flatMap((request, index): Unreached[] => {
      if (request.type === 'document' || NOT_ADDONS.includes(request.payer)) return this.unreachedParts(index)
      const { by } = asked.requests[index]!
      const because = outOfReach(request, by, 'leave-out', isRewritable)
      const evenSkipped = outOfReach(request, by, 'skip', isRewritable) !== null
      const staysAtOnce = !(isRewritable && canBeHeld(request, by))
      const own: Unreached = {
        payer: this.list.numberOf(request.payer),
        url: this.list.urlOf(request.url),
        because,
        flags: (evenSkipped ? UNREACHED.evenSkipped : 0) | (staysAtOnce ? UNREACHED.staysAtOnce : 0),
        when: this.ofRequest[index]!,
      }
      return because !== null || staysAtOnce ? [own] : []
    })
  }

  private unreachedParts(index: number): Unreached[] {
    const { url, isMapped } = this.basis.requests[index]!
    const parts = this.basis.charges.requests[index]!.slice(1)
    const payers = new Set(parts.flatMap(({ payer }) => (NOT_ADDONS.includes(payer) ? [] : [payer])))
    return [...payers].map((payer) => ({
      payer: this.list.numberOf(payer),
      url: this.list.urlOf(url),
      because: 'it is a part of a glued file',
      flags: UNREACHED.isPart | (isMapped ? UNREACHED.evenSkipped : 0),
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

  private add(when: number, tolls: readonly Toll[], section: number = SECTION.other): void {
    if (when === NEVER) return
    const figures = MEASURES.map((measure) => tolls.reduce((sum, toll) => sum + toll[measure], 0))
    this.put(section, when, figures)
  }

  private skipped(payer: string): number {
    return 2 * this.list.numberOf(payer) + 1
  }

  /** Files of what is no add-on no rule names, so all of them that are reached alike are one taker. */
  private taken(index: number, turns: Map<string, number>): number {
    const { requests, asked, isRewritable } = this.basis
    const request = requests[index]!
    if (request.type === 'document') return NEVER
    const { payer, url } = request
    const { by } = asked.requests[index]!
    const turn = turns.get(url) ?? 0
    turns.set(url, turn + 1)
    const bits = [
      outOfReach(request, by, 'leave-out', isRewritable) === null && TAKES.leaveOut,
      outOfReach(request, by, 'skip', isRewritable) === null && TAKES.skip,
      isRewritable && canBeHeld(request, by) && TAKES.hold,
      isRewritable && canBeReordered(request, by, 'defer') && TAKES.order,
      isRewritable && canBeReordered(request, by, 'end') && TAKES.orderEnd,
    ]
    const takes = bits.reduce<number>((sum, bit) => sum | (bit || 0), 0)
    if (NOT_ADDONS.includes(payer)) return takes === 0 ? NEVER : this.list.taker(payer, takes, null)
    // A copy can come in the place of what can't be taken, too.
    return takes === 0 && by !== 'html' ? NEVER : this.list.taker(payer, takes, url, by === 'html' ? turn : 0)
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
    const { firstNode } = this.list
    const left = requests.flatMap((_, index) => (this.ofRequest[index] === undefined ? [index] : []))
    if (left.length === 0) return
    this.isTangled = true
    const reserve = () => firstNode + this.nodes.push([]) - 1
    for (const index of left) this.ofRequest[index] = reserve()
    const addresses = askers.flatMap((_, address) => (this.ofAddress[address] === undefined ? [address] : []))
    for (const address of addresses) this.ofAddress[address] = reserve()
    const at = (ref: number) => this.nodes[ref - firstNode]!
    for (const index of left) at(this.ofRequest[index]!).push(this.refsOf(index).filter((ref) => ref !== NEVER))
    for (const address of addresses)
      at(this.ofAddress[address]!).push(
        ...askers[address]!.map((asker) => (this.ofRequest[asker] === NEVER ? [] : [this.ofRequest[asker]!])),
      )
  }

  /** Any one of these going takes the request away. */
  private refsOf(index: number): number[] {
    const { needs, needsInline, redirectedFrom } = this.basis.asked.requests[index]!
    return [
      this.takerOf[index]!,
      ...needs.map((address) => this.ofAddress[address]!),
      ...needsInline.map((inline) => this.ofInline[inline]!),
      ...(redirectedFrom >= 0 ? [this.ofRequest[redirectedFrom]!] : []),
    ]
  }

  private or(refs: readonly number[]): number {
    const { firstNode } = this.list
    const flat = new Set<number>()
    for (const ref of refs) {
      if (ref === NEVER) continue
      const clauses = ref >= firstNode ? this.nodes[ref - firstNode]! : []
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
      known = this.list.firstNode + this.nodes.push(clauses) - 1
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
