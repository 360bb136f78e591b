import { randomBytes } from 'node:crypto'
import type { Rule } from '@unvelt/core'
import type { OnTrial } from './shelf.js'

/** Draft rules are kept for so long, and so many sets of them; the oldest goes first. */
const KEPT_MS = 30 * 60_000
const MOST_KEPT = 20

interface Kept {
  rules: Rule[]
  /** Add-ons that are there for these drafts alone. */
  addOns: OnTrial
  until: number
}

/** Rules, and add-ons on trial, that only measuring requests see which name them. Nothing of them outlives the process. */
export class DraftStore {
  private readonly kept = new Map<string, Kept>()

  keep(rules: Rule[], addOns: OnTrial = {}, now = Date.now()): { id: string; until: Date } {
    const id = randomBytes(12).toString('hex')
    const until = now + KEPT_MS
    this.kept.set(id, { rules, addOns, until })
    for (const oldest of this.kept.keys()) if (this.kept.size > MOST_KEPT) this.kept.delete(oldest)
    return { id, until: new Date(until) }
  }

  /** Undefined for what was never kept, was removed or is over. */
  at(id: string, now = Date.now()): Omit<Kept, 'until'> | undefined {
    const found = this.kept.get(id)
    if (found && found.until > now) return found
    this.kept.delete(id)
    return undefined
  }

  /** What is on trial in any of them, so that its files can be had as long as it is. */
  onTrial(now = Date.now()): OnTrial[] {
    return [...this.kept.values()].flatMap(({ addOns, until }) => (until > now ? [addOns] : []))
  }

  remove(id: string): boolean {
    return this.kept.delete(id)
  }
}
