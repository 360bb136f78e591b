import type { Asking, Askings } from './asking.js'
import type { BasisAskings } from './basis.js'

/**
 * Which requests are made, and which are not once some are kept from being made and some code is not there: a request goes only
 * if nothing that stays asks for it. Worked out from what stays (reachability from the page's own HTML), so code that only asks
 * for itself, in whatever circle, goes with what began it.
 */
class Going {
  readonly goes: boolean[]
  private readonly isThere: boolean[]
  /** How much of what a request needs is not known to stay. */
  private readonly missing: number[]
  private readonly dependents: number[][]
  private readonly redirects: number[][]
  private readonly waiting: number[] = []

  constructor(
    private readonly askings: BasisAskings,
    private readonly isTaken: (request: number) => boolean,
    isInlineGone: (inline: number) => boolean,
  ) {
    const { requests, askers } = askings
    this.goes = new Array<boolean>(requests.length).fill(true)
    this.isThere = new Array<boolean>(askers.length).fill(false)
    this.dependents = askers.map(() => [])
    this.redirects = requests.map(() => [])
    this.missing = requests.map(({ needs, needsInline, redirectedFrom }, index) => {
      for (const address of needs) this.dependents[address]!.push(index)
      if (redirectedFrom >= 0) this.redirects[redirectedFrom]!.push(index)
      // Code that is gone is never known to stay.
      return needs.length + (redirectedFrom >= 0 ? 1 : 0) + (needsInline.some(isInlineGone) ? Infinity : 0)
    })
    requests.forEach((_, index) => this.consider(index))
    this.settle()
  }

  /** Takes a request for one that is made in any case. */
  free(request: number): void {
    this.missing[request] = 0
    this.consider(request)
    this.settle()
  }

  private consider(request: number): void {
    if (!this.goes[request] || this.missing[request] !== 0 || this.isTaken(request)) return
    this.goes[request] = false
    this.waiting.push(request)
  }

  private settle(): void {
    const { addressOf } = this.askings
    const found = (request: number) => {
      this.missing[request]! -= 1
      this.consider(request)
    }
    for (let request = this.waiting.pop(); request !== undefined; request = this.waiting.pop()) {
      this.redirects[request]!.forEach(found)
      const address = addressOf[request]!
      if (this.isThere[address]) continue
      this.isThere[address] = true
      this.dependents[address]!.forEach(found)
    }
  }
}

/** Of each request whether it goes. */
export const going = (
  askings: BasisAskings,
  isTaken: (request: number) => boolean,
  isInlineGone: (inline: number) => boolean,
): boolean[] => new Going(askings, isTaken, isInlineGone).goes

/**
 * Askings in which every request can be traced to the page's HTML. Requests ask for each other in a circle, or a recording has
 * lost who asked; the first of each such circle is taken for the page's own, so that a prediction of nothing spares nothing.
 */
export function withoutLooseEnds(askings: Askings): Askings {
  const all = new Going(
    askings,
    () => false,
    () => false,
  )
  if (!all.goes.includes(true)) return askings
  const requests = askings.requests.map((asking, index): Asking => {
    if (!all.goes[index]) return asking
    all.free(index)
    return { by: 'html', needs: [], needsInline: [], redirectedFrom: -1 }
  })
  return { ...askings, requests }
}
