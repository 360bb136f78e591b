import type { Sequelize } from 'sequelize'
import { FactsBySlug } from './facts-by-slug.js'
import { factsVersion, useFacts } from './use-store.js'

const MOST_IN_MEMORY = 4

/** Facts of use as they were read last, for as long as none is added or taken away: a large site has tens of thousands. */
export class KnownFacts {
  private readonly bySweep = new Map<string, { version: string; facts: FactsBySlug }>()

  constructor(private readonly sequelize: Sequelize) {}

  async of(siteId: number, sweepId: number | null): Promise<FactsBySlug> {
    const key = `${siteId} ${sweepId}`
    // Asked first: what is written meanwhile makes it another version, and is read the next time.
    const version = await factsVersion(this.sequelize, siteId, sweepId)
    const known = this.bySweep.get(key)
    if (known?.version === version) return known.facts
    const facts = new FactsBySlug(await useFacts(this.sequelize, siteId, sweepId))
    this.bySweep.delete(key)
    this.bySweep.set(key, { version, facts })
    for (const oldest of [...this.bySweep.keys()].slice(0, -MOST_IN_MEMORY)) this.bySweep.delete(oldest)
    return facts
  }
}
