import { reachOf } from '../reach/reach.js'
import { ConnectorClient } from '../site-http/connector-client.js'
import type { Common } from './common-subject.js'
import type { RehearsalRow } from './rehearsal.model.js'

/** The drafts as the site keeps them for a while; nothing where it does not keep any. */
export class DraftsAtSite {
  private id: Promise<string> | null = null
  private known: string | null = null

  constructor(
    private readonly common: Common,
    private readonly row: Pick<RehearsalRow, 'mechanism'>,
  ) {}

  private get connector(): ConnectorClient {
    const { site, key } = this.common
    return new ConnectorClient(site.address, site.connector!.base, key ?? '', reachOf(site))
  }

  private async name(): Promise<string | null> {
    if (this.row.mechanism !== 'site') return null
    this.id ??= this.connector.keepDrafts([...this.common.rules])
    try {
      return (this.known = await this.id)
    } catch (error) {
      this.id = null
      throw error
    }
  }

  /** Reads under the drafts, once more where the site was started anew, or has kept them for long enough. */
  async reading<T>(read: (name: string | null) => Promise<T>): Promise<T> {
    const name = await this.name()
    try {
      return await read(name)
    } catch (error) {
      if (!/answered 409/.test((error as Error).message)) throw error
      this.lost(name)
      return read(await this.name())
    }
  }

  /** Of several that find it gone only the first has it kept anew. */
  private lost(name: string | null): void {
    if (this.known === name) this.id = null
  }

  async forget(): Promise<void> {
    const id = await this.id?.catch(() => null)
    if (id != null) await this.connector.removeDrafts(id).catch(() => {})
  }
}
