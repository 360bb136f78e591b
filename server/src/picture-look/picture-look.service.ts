import { Injectable } from '@nestjs/common'
import {
  STANDARD_SIMILARITY,
  type LookedThroughLens,
  type PictureLook,
  type PictureLookRequest,
  type PictureLookView,
} from '@unvelt/contract'
import type { OnDemand, PicturesTaken } from '../on-demand/on-demand.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import { notFound } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { PictureFileRow } from './picture-file.model.js'

/** A look that is under way, and the one before it. */
const MOST_LOOKS = 2

const TYPES: Record<string, string> = {
  jpeg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  avif: 'image/avif',
  gif: 'image/gif',
  svg: 'image/svg+xml',
}

/** What the pictures of a page could weigh. */
@Injectable()
export class PictureLookService {
  constructor(
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow, pageId: number): Promise<PictureLookView> {
    await this.onDemand.needPage(site.id, pageId)
    const [row] = await this.onDemand.newest('pictures', { siteId: site.id, pageId })
    return { newest: row ? lookView(row, site.leastDifference) : null }
  }

  async start(site: SiteRow, pageId: number, { similarity }: PictureLookRequest): Promise<PictureLookView> {
    await this.onDemand.needPage(site.id, pageId)
    // A sweep beside it would disturb both.
    await this.sweeps.refuseWhileRunning(site.id)
    const subject = { siteId: site.id, pageId }
    const busy = 'The pictures of this page are being looked at already.'
    await this.onDemand.start('pictures', subject, { similarity: similarity ?? STANDARD_SIMILARITY }, busy)
    return this.view(site, pageId)
  }

  async file(
    site: SiteRow,
    pageId: number,
    { n, as, look }: { n: number; as: string; look: number | undefined },
  ): Promise<{ type: string; content: Buffer }> {
    const looks = await this.onDemand.newest('pictures', { siteId: site.id, pageId }, MOST_LOOKS)
    const row = looks.find(({ id }) => look === undefined || id === look)
    const picture = row?.taken.pictures[n]
    if (!picture) throw notFound('picture')
    const found = await PictureFileRow.findOne({ where: { readingOnDemandId: row.id, n, as } })
    if (!found) throw notFound('picture')
    const format = as === 'was' || as === 'same' ? picture.format : as
    return { type: TYPES[format] ?? 'application/octet-stream', content: found.content }
  }
}

/** From so many CSS pixels on a view is a desk's. */
const DESK_FROM = 800

/** What looks of earlier versions say of the one lens that they were taken through. */
const lensBefore = ({ ratio = 1, viewWidth = 0 }: PicturesTaken): LookedThroughLens[] => [
  { name: '', device: viewWidth >= DESK_FROM ? 'desk' : 'handset', ratio, viewWidth },
]

function lookView({ id, wish, taken, state, takenAt, failure }: OnDemand<'pictures'>, leastShare: number): PictureLook {
  const together = taken.pictures.reduce((sum, { bytes }) => sum + bytes, 0)
  return {
    id,
    underWay: state !== 'done',
    takenAt: takenAt.toISOString(),
    failure,
    similarity: wish.similarity,
    lenses: taken.lenses ?? lensBefore(taken),
    toLookAt: taken.toLookAt,
    pictures: taken.pictures,
    frames: taken.frames ?? [],
    leastBytes: Math.round(leastShare * together),
  }
}
