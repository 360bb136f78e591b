import { Injectable } from '@nestjs/common'
import type { ConsentCost, ConsentRequest } from '@unvelt/contract'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import type { SiteRow } from '../site/site.model.js'

/** What a site loads before its visitors have answered whether they agree, and what after either answer. */
@Injectable()
export class ConsentService {
  constructor(private readonly onDemand: OnDemandService) {}

  async view({ id }: SiteRow): Promise<ConsentCost> {
    const [row] = await this.onDemand.newest('consent', { siteId: id, pageId: null })
    if (!row) return { state: 'none', path: '/', phone: false, failure: null, takenAt: null, banner: null, sides: [] }
    const { banner, sides } = row.taken
    return {
      state: row.state,
      path: row.wish.path,
      phone: row.wish.phone,
      failure: row.failure,
      takenAt: row.state === 'done' ? (row.takenAt?.toISOString() ?? null) : null,
      banner: banner && { text: banner.text, agree: banner.agree, refuse: banner.refuse },
      sides,
    }
  }

  async start(site: SiteRow, { path = '/', phone = false }: ConsentRequest): Promise<ConsentCost> {
    const subject = { siteId: site.id, pageId: null }
    await this.onDemand.start('consent', subject, { path, phone }, 'It is being looked at already.')
    return this.view(site)
  }
}
