import type { ChangedAddOn } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { reachOf } from '../reach/reach.js'
import { RehearsalRow } from '../rehearsal/rehearsal.model.js'
import { ConnectorClient } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import type { SiteRow } from '../site/site.model.js'
import { changedBetween } from './page-history.js'

/** The version that is put in an add-on's place; null where it is left out, since it was not there. */
export type PutBack = string | null

/** Add-ons that came, went, or are another version than when a round's pages were as they should be. Nothing of a first round. */
export async function changedSince({ siteId, against, versions }: RehearsalRow): Promise<ChangedAddOn[]> {
  const [sound, addOns] = await Promise.all([
    against === null ? null : RehearsalRow.findByPk(against, { attributes: ['versions'] }),
    AddOnRow.findAll({ where: { siteId }, attributes: ['slug', 'name'] }),
  ])
  const names = new Map(addOns.map(({ slug, name }) => [slug, name]))
  const entries = (known: Record<string, string>) =>
    Object.entries(known).map(([slug, version]) => ({ slug, name: names.get(slug) ?? slug, version }))
  return sound ? changedBetween(entries(sound.versions), entries(versions)) : []
}

/** What a site can make a page with, without installing it; nothing where it can't. */
export async function onShelf(secret: Buffer, site: SiteRow): Promise<{ slug: string; version: string }[]> {
  const { connector, connectorKey } = site
  if (!connector?.measuring?.drafts || !connector.measuring.addOns || !connector.calls?.includes('GET /shelf'))
    return []
  const key = connectorKey === null ? '' : open(connectorKey, secret)
  const client = new ConnectorClient(site.address, connector.base, key, reachOf(site))
  return client.shelf().catch(() => [])
}
