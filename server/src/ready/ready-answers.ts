import { Injectable } from '@nestjs/common'
import { LRUCache } from 'lru-cache'
import { PackedAnswer } from './packed-answer.js'
import { SiteVersions } from './site-versions.js'

const MOST_BYTES = 96 * 1024 * 1024
/** What is told of the clock in an answer, such as how long something will take, is at most so old. */
const HOLDS_MS = 60_000

interface Kept {
  version: string
  answer: Promise<PackedAnswer>
}

/** Answers that hold until something of their site is written. What is being worked out is worked out once. */
@Injectable()
export class ReadyAnswers {
  private readonly underWay = new Map<string, Kept>()
  private readonly ready = new LRUCache<string, Kept>({
    maxSize: MOST_BYTES,
    ttl: HOLDS_MS,
  })

  constructor(private readonly versions: SiteVersions) {}

  /**
   * @param of What is asked for, with all that the answer depends on but the data.
   * @param siteId Whose data the answer is made of; null for all sites together.
   */
  async get(of: string, siteId: number | null, make: () => Promise<PackedAnswer>): Promise<PackedAnswer> {
    const version = await this.versions.now(siteId)
    if (version === null) return make()
    for (const known of [this.ready.get(of), this.underWay.get(of)]) if (known?.version === version) return known.answer
    const kept = { version, answer: make() }
    this.underWay.set(of, kept)
    try {
      const answer = await kept.answer
      // Where somebody has begun anew meanwhile, this is older than what comes.
      if (answer.holds && this.underWay.get(of) === kept) this.ready.set(of, kept, { size: Math.max(1, answer.size) })
      return answer
    } finally {
      if (this.underWay.get(of) === kept) this.underWay.delete(of)
    }
  }

  /** To be told when an answer was packed, since its packs count too. */
  weighAnew(of: string, answer: PackedAnswer): void {
    const kept = this.ready.peek(of)
    if (kept)
      void kept.answer.then((known) => {
        if (known === answer && this.ready.peek(of) === kept)
          this.ready.set(of, kept, { size: answer.size, ttl: this.ready.getRemainingTTL(of) })
      })
  }
}
