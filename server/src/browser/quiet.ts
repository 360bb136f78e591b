import { QUIET_MS } from './limits.js'

export type QuietEnd = 'quiet' | 'never quiet' | 'stopped'

/** Waits until nothing has been under way for the quiet span, or the wait is over. `poke` is to be called on every change. */
export class QuietWatch {
  private timer: NodeJS.Timeout | null = null
  private settle: ((end: QuietEnd) => void) | null = null

  constructor(
    private readonly underWay: () => number,
    private readonly quietMs = QUIET_MS,
  ) {}

  poke(): void {
    if (!this.settle) return
    if (this.timer) clearTimeout(this.timer)
    this.timer = this.underWay() > 0 ? null : setTimeout(() => this.end('quiet'), this.quietMs)
  }

  wait(atMostMs: number): Promise<QuietEnd> {
    return new Promise((resolve) => {
      const late = setTimeout(() => this.end('never quiet'), atMostMs)
      this.settle = (end) => {
        clearTimeout(late)
        if (this.timer) clearTimeout(this.timer)
        this.settle = null
        resolve(end)
      }
      this.poke()
    })
  }

  /** Ends the wait at once, because a limit was passed. */
  stop(): void {
    this.end('stopped')
  }

  private end(end: QuietEnd): void {
    this.settle?.(end)
  }
}
