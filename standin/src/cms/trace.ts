interface Step {
  payer: string
  startedAt: number
  /** Time of steps inside this one; not its own. */
  insideMs: number
}

interface Spent {
  selfMs: number
  queries: number
  queryMs: number
}

/** Where the time goes while one page is made. Steps nest; each is charged with its self time. All milliseconds. */
export class Trace {
  private readonly began = performance.now()
  private readonly open: Step[] = []
  private readonly spent = new Map<string, Spent>()

  /** Runs a piece of somebody's code and charges that payer with the time it took itself. */
  async step<T>(payer: string, run: () => Promise<T>): Promise<T> {
    const step: Step = { payer, startedAt: performance.now(), insideMs: 0 }
    this.open.push(step)
    try {
      return await run()
    } finally {
      this.open.pop()
      const took = performance.now() - step.startedAt
      this.of(payer).selfMs += took - step.insideMs
      const outer = this.open.at(-1)
      if (outer) outer.insideMs += took
    }
  }

  /** Runs one query and counts it for the step that asked. */
  async query<T>(run: () => Promise<T>): Promise<T> {
    const startedAt = performance.now()
    try {
      return await run()
    } finally {
      const spent = this.of(this.open.at(-1)?.payer ?? 'cms')
      spent.queries += 1
      spent.queryMs += performance.now() - startedAt
    }
  }

  /** The `Server-Timing` header of the connector protocol. */
  serverTiming(): string {
    const parts = [`total;dur=${(performance.now() - this.began).toFixed(3)}`]
    for (const [payer, { selfMs, queries, queryMs }] of this.spent) {
      const name = payer === 'cms' ? 'cms' : `addon.${payer}`
      parts.push(`${name};dur=${selfMs.toFixed(3)}`)
      if (queries > 0) parts.push(`${name}.db;dur=${queryMs.toFixed(3)};desc="${queries}"`)
    }
    return parts.join(', ')
  }

  private of(payer: string): Spent {
    const spent = this.spent.get(payer) ?? { selfMs: 0, queries: 0, queryMs: 0 }
    this.spent.set(payer, spent)
    return spent
  }
}
