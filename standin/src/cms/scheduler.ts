import type { Database } from './database.js'
import type { LocalCopies } from './local-copies.js'
import type { Installed } from './installed.js'
import type { SpanSender } from './spans.js'
import { Trace } from './trace.js'

const LOOK_EVERY_MS = 30_000

/** Runs the add-ons' work that belongs to no page load, and fetches copies anew, when it is due. */
export class Scheduler {
  private timer: NodeJS.Timeout | null = null
  private running: Promise<void> = Promise.resolve()

  constructor(
    private readonly database: Database,
    private readonly installed: Installed,
    private readonly copies: LocalCopies,
    private readonly spans: SpanSender | null = null,
  ) {}

  /** @param site The address that is named where the work is told of. */
  start(site: string): void {
    this.timer = setInterval(() => (this.running = this.look(site)), LOOK_EVERY_MS)
    this.timer.unref()
  }

  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer)
    await this.running
  }

  /** A database that is away for a while takes no site with it: what was due is due at the next look. */
  async look(site: string): Promise<void> {
    try {
      await this.runDue(site)
      await this.copies.refreshDue()
    } catch (error) {
      process.stderr.write(`What was due could not be done: ${(error as Error).message}\n`)
    }
  }

  async runDue(site: string): Promise<void> {
    for (const { manifest, active, tasks = [] } of this.installed.addOns) {
      if (active === false) continue
      for (const task of tasks) {
        const due = await this.database.query(
          `update loam_tasks set last_run = now() where name = $1 and owner = $2
           and (last_run is null or last_run + make_interval(secs => every_seconds) <= now()) returning name`,
          [task.name, manifest.slug],
        )
        if (due.length === 0) continue
        const began = performance.now()
        const spans = this.spans?.task(task.name, manifest.slug, site) ?? null
        const trace = new Trace(spans)
        const failed = await trace
          .step(manifest.slug, () => task.run(this.database.tracedBy(trace)), task.name)
          .then(
            () => null,
            (error: Error) => error.message,
          )
        spans?.end(failed, trace)
        await this.database.query('update loam_tasks set last_ms = $2, last_error = $3 where name = $1', [
          task.name,
          performance.now() - began,
          failed,
        ])
      }
    }
  }
}
