interface Waiting {
  alone: boolean
  /** Waits until nobody is in the middle of a series. */
  gathers: boolean
  begin: () => void
  /** How many of the other sort have gone first. */
  passed: number
}

export interface Series {
  begin(): void
  end(): void
}

/** So often is somebody passed by, for a page that goes on and on, before all others wait for him. */
const PATIENCE = 12
/** Whoever gathers waits for the timed loads of all pages that are at hand. */
const PATIENCE_TO_GATHER = 60

/**
 * Who may be at work in a worker at the same time. What gives times has the worker to itself; all else goes on beside
 * each other. Turns are bundled, so that what may overlap does: as long as anything goes on beside others, more of it may
 * join; and once somebody is alone, whoever waits to be alone follows. Long work gathers until no page is in the middle
 * of its timed loads, so that it overlaps with that of the other pages. Nobody waits for ever.
 */
export class Turns {
  /** @param outer Holds the turn beyond this worker too, for the time that something has it here. */
  constructor(private readonly outer: <T>(alone: boolean, run: () => Promise<T>) => Promise<T> = (_, run) => run()) {}

  private besides = 0
  private isAlone = false
  private lastAlone = false
  private waiting: Waiting[] = []
  private series = 0

  /** Runs what gives times, once nothing else is at work. */
  alone<T>(run: () => Promise<T>): Promise<T> {
    return this.take({ alone: true, gathers: false }, run)
  }

  /** Runs what gives no times, beside others of that sort. */
  beside<T>(run: () => Promise<T>): Promise<T> {
    return this.take({ alone: false, gathers: false }, run)
  }

  /** Runs long work that gives no times, if possible beside more of it. */
  gathered<T>(run: () => Promise<T>): Promise<T> {
    return this.take({ alone: false, gathers: true }, run)
  }

  /** A page's timed loads, which others' long work waits for once they have begun. To be ended in any case. */
  newSeries(): Series {
    let isOn = false
    const turn = (on: boolean) => {
      if (on === isOn) return
      isOn = on
      this.series += on ? 1 : -1
      setImmediate(() => this.admit())
    }
    return { begin: () => turn(true), end: () => turn(false) }
  }

  private async take<T>(kind: Pick<Waiting, 'alone' | 'gathers'>, run: () => Promise<T>): Promise<T> {
    await new Promise<void>((begin) => {
      this.waiting.push({ ...kind, begin, passed: 0 })
      this.admit()
    })
    try {
      return await this.outer(kind.alone, run)
    } finally {
      if (kind.alone) this.isAlone = false
      else this.besides--
      // Whoever goes on at once with more of the same is asked first.
      setImmediate(() => this.admit())
    }
  }

  private admit(): void {
    for (let next = this.next(); next; next = this.next()) {
      this.waiting = this.waiting.filter((other) => other !== next)
      for (const other of this.waiting) if (other.gathers || other.alone !== next.alone) other.passed++
      if (next.alone) this.isAlone = true
      else this.besides++
      this.lastAlone = next.alone
      next.begin()
    }
  }

  /** Who may begin now. */
  private next(): Waiting | undefined {
    if (this.isAlone) return undefined
    const impatient = this.waiting.find(({ passed, gathers }) => passed >= (gathers ? PATIENCE_TO_GATHER : PATIENCE))
    const ready = this.waiting.filter(({ gathers }) => !gathers || this.series === 0)
    const first = (alone: boolean) => ready.find((one) => one.alone === alone)
    const best = impatient ?? first(this.lastAlone) ?? ready[0]
    return best?.alone && this.besides > 0 ? (impatient ? undefined : first(false)) : best
  }
}
