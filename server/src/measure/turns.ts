/**
 * Who may be at work in a worker at the same time. What gives times has the worker to itself; all else goes on beside
 * each other. First come, first served, so that nobody waits for ever.
 */
export class Turns {
  private besides = 0
  private isAlone = false
  private readonly waiting: { alone: boolean; begin: () => void }[] = []

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
      this.waiting.push({ alone, begin })
      this.admit()
    })
    try {
      return await run()
    } finally {
      if (alone) this.isAlone = false
      else this.besides--
      this.admit()
    }
  }

  private admit(): void {
    for (let next = this.waiting[0]; next && this.mayBegin(next.alone); next = this.waiting[0]) {
      this.waiting.shift()
      if (next.alone) this.isAlone = true
      else this.besides++
      next.begin()
    }
  }

  private mayBegin(alone: boolean): boolean {
    return !this.isAlone && (!alone || this.besides === 0)
  }
}
