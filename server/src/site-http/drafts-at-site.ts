import { reachOf } from '../reach/reach.js'
import { ConnectorClient } from './connector-client.js'
import type { SiteRow } from '../site/site.model.js'
import type { Rule } from '@unvelt/core'
import { giveCopies } from './give-copies.js'

/** What the site is to keep, and the key to it. */
interface Drafts {
  site: SiteRow
  key: string | null
  rules: readonly Rule[]
  /** Add-ons that are tried with them: slug → version, or null for as if it was not there. */
  addOns?: Readonly<Record<string, string | null>>
}

/** The drafts as the site keeps them for a while; nothing where it does not keep any. */
export class DraftsAtSite {
  private id: Promise<string> | null = null
  private known: string | null = null

  constructor(
    private readonly drafts: Drafts,
    private readonly by: { mechanism: string },
  ) {}

  private get connector(): ConnectorClient {
    const { site, key } = this.drafts
    return new ConnectorClient(site.address, site.connector!.base, key ?? '', reachOf(site))
  }

  private async name(): Promise<string | null> {
    if (this.by.mechanism !== 'site') return null
    this.id ??= keepWithCopies(this.connector, this.drafts)
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

async function keepWithCopies(connector: ConnectorClient, { site, rules, addOns }: Drafts): Promise<string> {
  await giveCopies(connector, site.id, rules)
  return connector.keepDrafts([...rules], addOns)
}
