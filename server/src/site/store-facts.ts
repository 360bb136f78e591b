import { outsiderPayer, registrableDomain } from '@unvelt/core'
import type {
  AssetsAnswer,
  ConnectorDescription,
  InventoryAnswer,
  PagesAnswer,
  UseEvidenceAnswer,
} from '@unvelt/contract'
import { Op, type Sequelize, type Transaction } from 'sequelize'
import { AddOnRow } from '../add-on/add-on.model.js'
import { PageRow } from '../page/page.model.js'
import { storeConnectorUse } from '../use/use-store.js'
import type { ConnectorClient } from '../site-http/connector-client.js'
import type { SiteRow } from './site.model.js'

/** All that a connector says of its site before anything is measured. */
export interface SiteFacts {
  inventory: InventoryAnswer
  pages: PagesAnswer['pages']
  assets: AssetsAnswer
  uses: UseEvidenceAnswer['uses']
}

export async function readFacts(client: ConnectorClient, { calls }: ConnectorDescription): Promise<SiteFacts> {
  return {
    inventory: await client.inventory(),
    pages: await client.pages(),
    assets: await client.assets(),
    uses: await client.uses(calls),
  }
}

/** Keeps what the connector said. What it does not name any more is gone from the site, and keeps its past. */
export async function storeFacts(
  sequelize: Sequelize,
  site: SiteRow,
  { inventory, pages, uses }: SiteFacts,
  transaction: Transaction,
): Promise<void> {
  await PageRow.bulkCreate(
    pages.map(({ path, title, kind, area, signedIn, modified, weight }, position) => ({
      siteId: site.id,
      path,
      title,
      kind,
      area,
      position,
      signedIn: signedIn ?? false,
      modified: modified ?? null,
      views: weight ?? null,
      gone: false,
    })),
    {
      transaction,
      updateOnDuplicate: ['title', 'kind', 'area', 'position', 'signedIn', 'modified', 'views', 'gone'],
      conflictAttributes: ['siteId', 'path'],
    },
  )
  await markGonePages(
    site,
    pages.map(({ path }) => path),
    transaction,
  )
  await AddOnRow.bulkCreate(
    inventory.addOns.map((addOn) => ({
      siteId: site.id,
      slug: addOn.slug,
      kind: addOn.kind,
      name: addOn.name,
      version: addOn.version ?? null,
      author: addOn.author ?? null,
      summary: addOn.summary ?? '',
      source: 'connector' as const,
      needs: addOn.needs,
      library: addOn.library ?? false,
      canSkip: addOn.canSkip ?? false,
      files: addOn.files.map(({ path, type, bytes }) => ({ path, type, bytes })),
      outsideHosts: addOn.outsideHosts ?? [],
      inlineIds: addOn.inlineIds ?? [],
      active: addOn.active ?? true,
      since: addOn.since ? new Date(addOn.since) : null,
      versions: addOn.versions ?? [],
      features: addOn.features ?? [],
      settings: addOn.settings ?? [],
      tables: addOn.tables ?? [],
      tasks: addOn.tasks ?? [],
      works: addOn.works ?? null,
      insertedBy: addOn.insertedBy ?? null,
      gone: false,
      blocks: addOn.blocks ?? [],
      jobs: addOn.jobs ?? [],
    })),
    {
      transaction,
      updateOnDuplicate: [
        'kind',
        'name',
        'version',
        'author',
        'summary',
        'source',
        'needs',
        'library',
        'canSkip',
        'files',
        'outsideHosts',
        'inlineIds',
        'active',
        'since',
        'versions',
        'features',
        'settings',
        'tables',
        'tasks',
        'works',
        'insertedBy',
        'gone',
        'blocks',
        'jobs',
      ],
      conflictAttributes: ['siteId', 'slug'],
    },
  )
  const listed = inventory.addOns.map(({ slug }) => slug)
  await AddOnRow.update(
    { gone: true },
    { where: { siteId: site.id, source: 'connector', slug: { [Op.notIn]: listed } }, transaction },
  )
  await dropDoubles(site, inventory, transaction)
  await watchWhatIsOff(sequelize, site.id, transaction)
  await storeConnectorUse(sequelize, site.id, uses, transaction)
}

/** Of what is to be retired and was switched by other hands: off, it is watched from now on; on again, from the next time. */
async function watchWhatIsOff(sequelize: Sequelize, siteId: number, transaction: Transaction): Promise<void> {
  await sequelize.query(
    `update retirement set off_at = case when active then null else clock_timestamp() end
     from add_on where add_on.site_id = retirement.site_id and add_on.slug = retirement.slug and not add_on.gone
     and retirement.site_id = :siteId and finished_at is null and retirement.features is null
     and doing is null and active = (off_at is not null)`,
    { replacements: { siteId }, transaction },
  )
}

/** A page that nobody names any more is not swept again; one that the maintainer named stays. */
export async function markGonePages(site: SiteRow, paths: string[], transaction: Transaction): Promise<void> {
  await PageRow.update(
    { gone: true },
    { where: { siteId: site.id, byHand: false, path: { [Op.notIn]: paths } }, transaction },
  )
}

/** An outsider that a reading found is no entry of its own once an add-on says that the host is its. */
async function dropDoubles(site: SiteRow, inventory: InventoryAnswer, transaction: Transaction): Promise<void> {
  const declared = inventory.addOns.flatMap(({ outsideHosts = [] }) => outsideHosts.map(registrableDomain))
  await AddOnRow.destroy({
    where: { siteId: site.id, source: 'reading', slug: declared.map(outsiderPayer) },
    transaction,
  })
}
