/**
 * What the address says, with what was written and is not drawn yet. The router changes the address that it had when it was
 * drawn last, so of two writes in quick succession the second would take the first one back.
 */
export class NewestAddress {
  private pending: string[] = []

  constructor(private newest: URLSearchParams) {}

  /** The address after a change, over all that was written before. */
  written(alter: (old: URLSearchParams) => URLSearchParams): URLSearchParams {
    this.newest = alter(new URLSearchParams(this.newest))
    this.pending.push(this.newest.toString())
    return this.newest
  }

  /** The router has drawn an address: one of ours, in its turn, or one that a link or *Back* led to. */
  drawn(search: URLSearchParams): void {
    const at = this.pending.indexOf(search.toString())
    this.pending = at < 0 ? [] : this.pending.slice(at + 1)
    if (this.pending.length === 0) this.newest = search
  }
}
