/** Which effects take a thing away, as bits, or make it wait. */
export const TAKES = { leaveOut: 1, skip: 2, hold: 4, order: 8, orderEnd: 16 } as const

/** Takers of a page, those that are alike in several of its repeats once. */
export class TakerList {
  readonly takers: number[] = []
  readonly urls: string[] = []
  private readonly numbers: Map<string, number>
  private readonly known = new Map<string, number>()
  private readonly knownUrls = new Map<string, number>()

  constructor(readonly payers: readonly string[]) {
    this.numbers = new Map(payers.map((payer, n) => [payer, n]))
  }

  numberOf(payer: string): number {
    return this.numbers.get(payer)!
  }

  urlOf(url: string): number {
    const at = this.knownUrls.get(url) ?? this.urls.length
    if (at === this.urls.length) {
      this.urls.push(url)
      this.knownUrls.set(url, at)
    }
    return at
  }

  /** @param turn Tells several requests for one address apart. @returns its reference. */
  taker(payer: string, takes: number, url: string | null, turn = 0): number {
    const row = [this.numberOf(payer), takes, url === null ? -1 : this.urlOf(url)]
    const key = `${row.join()},${turn}`
    let at = this.known.get(key)
    if (at === undefined) {
      at = this.takers.length / 3
      this.known.set(key, at)
      this.takers.push(...row)
    }
    return 2 * this.payers.length + at
  }

  /** Of the first node; there may be no more takers then. */
  get firstNode(): number {
    return 2 * this.payers.length + this.takers.length / 3
  }
}
