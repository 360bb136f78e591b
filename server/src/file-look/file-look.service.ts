import { Injectable } from '@nestjs/common'
import type { FileLook, FileLookView } from '@unvelt/contract'
import type { OnDemand } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'

/** What the scripts and styles of a page could weigh. */
@Injectable()
export class FileLookService {
  constructor(
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow, pageId: number): Promise<FileLookView> {
    await this.onDemand.needPage(site.id, pageId)
    const [row] = await this.onDemand.newest('files', { siteId: site.id, pageId })
    return { newest: row ? lookView(row, site.leastDifference) : null }
  }

  async start(site: SiteRow, pageId: number): Promise<FileLookView> {
    await this.onDemand.needPage(site.id, pageId)
    // A sweep beside it would disturb both.
    await this.sweeps.refuseWhileRunning(site.id)
    const busy = 'The files of this page are being weighed already.'
    await this.onDemand.start('files', { siteId: site.id, pageId }, {}, busy)
    return this.view(site, pageId)
  }
}

function lookView({ id, taken, state, takenAt, failure }: OnDemand<'files'>, leastShare: number): FileLook {
  const together = taken.files.reduce((sum, { bytes }) => sum + bytes, 0)
  return {
    id,
    underWay: state !== 'done',
    takenAt: takenAt.toISOString(),
    failure,
    ...taken,
    leastBytes: Math.round(leastShare * together),
  }
}
