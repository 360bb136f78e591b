interface Waiting {
  alone: boolean
  begin: () => void
  /** How many of the other sort have gone first. */
  passed: number
}

/** So often is somebody passed by, for a page that goes on and on, before all others wait for him. */
const PATIENCE = 12

/**
 * Who may be at work in a worker at the same time. What gives times has the worker to itself; all else goes on beside
 * each other. Turns are bundled, so that what may overlap does: as long as anything goes on beside others, more of it may
 * join; and once somebody is alone, whoever waits to be alone follows. Nobody waits for ever.
 */
export class Turns {
  private besides = 0
  private isAlone = false
  private lastAlone = false
  private waiting: Waiting[] = []

  /** Runs what gives times, once nothing else is at work. */
  alone<T>(run: () => Promise<T>): Promise<T> {
    return this.take(true, run)
  }

  /** Runs what gives no times, beside others of that sort. */
  beside<T>(run: () => Promise<T>): Promise<T> {
    return this.take(false, run)
  }

  private async take<T>(alone: boolean, run: () => Promise<T>): Promise<T> {
    await new Promise<void>((begin) => {
      this.waiting.push({ alone, begin, passed: 0 })
      this.admit()
    })
    try {
      return await run()
    } finally {
      if (alone) this.isAlone = false
      else this.besides--
      // Whoever goes on at once with more of the same is asked first.
      setImmediate(() => this.admit())
    }
  }

  private admit(): void {
    for (let next = this.next(); next; next = this.next()) {
      this.waiting = this.waiting.filter((other) => other !== next)
      for (const other of this.waiting) if (other.alone !== next.alone) other.passed++
      if (next.alone) this.isAlone = true
      else this.besides++
      this.lastAlone = next.alone
      next.begin()
    }
  }

  /** Who may begin now. */
  private next(): Waiting | undefined {
    if (this.isAlone) return undefined
    const impatient = this.waiting.find(({ passed }) => passed >= PATIENCE)
    const first = (alone: boolean) => this.waiting.find((one) => one.alone === alone)
    const best = impatient ?? first(this.lastAlone) ?? this.waiting[0]
    return best?.alone && this.besides > 0 ? (impatient ? undefined : first(false)) : best
  }
}
