import { Injectable, type OnModuleInit } from '@nestjs/common'
import { SiteEvents } from '../events/site-events.js'

/** A number for each site that grows with everything that is written of it, by whichever server or worker. */
@Injectable()
export class SiteVersions implements OnModuleInit {
  private readonly ofSites = new Map<number, number>()
  private ofAll = 0
  private written = 0

  constructor(private readonly events: SiteEvents) {}

  onModuleInit(): void {
    this.events.changes.subscribe((siteId) => {
      this.written++
      if (siteId === null) this.ofAll++
      else this.ofSites.set(siteId, (this.ofSites.get(siteId) ?? 0) + 1)
    })
  }

  /**
   * The version of a site, or of all sites together, with everything in it that was written before this was asked.
   * @returns null while nobody can tell, since the database is not heard
   */
  async now(siteId: number | null): Promise<string | null> {
    if (!(await this.events.caughtUp())) return null
    return siteId === null ? `${this.written}` : `${this.ofAll}.${this.ofSites.get(siteId) ?? 0}`
  }
}
