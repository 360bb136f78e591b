/** What a job that is under way is told by its shell. */
export interface Hold {
  /** How often it was begun without getting anywhere, this time included. */
  tries: number
  /** Throws once the lock is lost: somebody else may be at the same work by now. To be asked before anything is written. */
  check(): void
  /** Something of it is stored for good, so what comes after begins with all its tries. */
  progressed(): Promise<void>
}

/** Something that is to be done, whatever is killed meanwhile. Each run goes on from what the tables say is done already. */
export interface Job<T extends object> {
  name: string
  /** How many of them a worker has at hand. */
  atATime: number
  /** What it is about. Of one key one worker is at hand at a time, and its tries are counted by it. */
  keyOf(data: T): string
  run(data: T, hold: Hold): Promise<void>
  /** It was begun as often as it may be, and nobody could end it: whoever waits for it is told. */
  giveUp(data: T, why: string): Promise<void>
  /** Unvelt itself is in trouble that doesn't pass (a full disk): whoever waits for it is told, and it may go on later. */
  standStill(data: T, why: string): Promise<void>
  /** All that the tables say is to be done. What of it is neither queued nor held is queued again. */
  unfinished(): Promise<{ data: T; priority?: number }[]>
}
