import { randomBytes } from 'node:crypto'
import type { Rule } from '@unvelt/core'

/** Draft rules are kept for so long, and so many sets of them; the oldest goes first. */
const KEPT_MS = 30 * 60_000
const MOST_KEPT = 20

interface Kept {
  rules: Rule[]
  until: number
}

/** Rules that only measuring requests see which name them. Nothing of them outlives the process. */
export class DraftStore {
  private readonly kept = new Map<string, Kept>()

  keep(rules: Rule[], now = Date.now()): { id: string; until: Date } {
    const id = randomBytes(12).toString('hex')
    const until = now + KEPT_MS
    this.kept.set(id, { rules, until })
    for (const oldest of this.kept.keys()) if (this.kept.size > MOST_KEPT) this.kept.delete(oldest)
    return { id, until: new Date(until) }
  }

  /** Undefined for what was never kept, was removed or is over. */
  at(id: string, now = Date.now()): Rule[] | undefined {
    const found = this.kept.get(id)
    if (found && found.until > now) return found.rules
    this.kept.delete(id)
    return undefined
  }

  remove(id: string): boolean {
    return this.kept.delete(id)
  }
}
