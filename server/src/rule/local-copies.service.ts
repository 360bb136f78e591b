import { Inject, Injectable } from '@nestjs/common'
import type { LocalCopies } from '@unvelt/contract'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { ProblemError } from '../problem/problem.error.js'
import { reachOf } from '../reach/reach.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import type { SiteRow } from '../site/site.model.js'

/** What the site tells of its copies of outside files. */
@Injectable()
export class LocalCopiesService {
  constructor(@Inject(CONFIG) private readonly config: Config) {}

  async list(site: SiteRow): Promise<LocalCopies> {
    if (site.connectorKey === null || site.connector?.calls?.includes('GET /copies') !== true)
      return { isTold: false, copies: [] }
    const key = open(site.connectorKey, this.config.secret)
    try {
      const copies = await new ConnectorClient(site.address, site.connector.base, key, reachOf(site)).copies()
      return {
        isTold: true,
        copies: copies.map(
          ({ address, path, addon, bytes, integrity, fetched, checked, refreshDays, trouble, from }) => ({
            ...{ address, path, addon, bytes },
            isMade: from !== undefined,
            isChecked: integrity !== undefined,
            fetchedAt: fetched,
            checkedAt: checked ?? null,
            refreshDays: refreshDays ?? null,
            trouble: trouble ?? null,
          }),
        ),
      }
    } catch (error) {
      if (error instanceof ConnectorError) throw new ProblemError(502, error.message)
      throw error
    }
  }
}
