import { Inject, Injectable } from '@nestjs/common'
import { outsiderPayer, registrableDomain } from '@unvelt/core'
import { Op, QueryTypes, Sequelize, UniqueConstraintError, type Transaction } from 'sequelize'
import type { Site, SiteChange } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { FIRST_LENSES } from '../lens/lens-settings.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { ConnectorClient, ConnectorError, describeConnector } from './connector-client.js'
import type {
  AssetsAnswer,
  ConnectorDescription,
  InventoryAnswer,
  PagesAnswer,
  UseEvidenceAnswer,
} from '@unvelt/contract'
import { reachOf, type Reach } from '../reach/reach.js'
import { storeConnectorUse } from '../use/use-store.js'
import { open, seal } from './secret-box.js'
import { siteOrigin } from './site-address.js'
import { SiteRow } from './site.model.js'

const FIELD_AT_FAULT: Record<string, string> = { key: 'connectorKey', reach: 'local' }
const MARK_IT_LOCAL = 'Such addresses are closed unless the site is marked as local.'

interface SiteFacts {
  inventory: InventoryAnswer
  pages: PagesAnswer['pages']
  assets: AssetsAnswer
  uses: UseEvidenceAnswer['uses']
}

/** Registers sites and keeps what their connectors say of them. */
@Injectable()
export class SiteService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async list(): Promise<Site[]> {
    return Promise.all((await SiteRow.findAll({ order: ['name'] })).map((row) => this.view(row)))
  }

  async get(id: number): Promise<SiteRow> {
    const row = await SiteRow.findByPk(id)
    if (!row) throw notFound('site')
    return row
  }

  /** Registers a site by its address. Nothing is stored unless all of it could be read. */
  async register(typed: string, connectorKey: string, local = false): Promise<Site> {
    const address = siteOrigin(typed)
    const { connector, facts } = await this.readSite(address, connectorKey, reachOf({ local }))
    const row = await this.sequelize
      .transaction(async (transaction) => {
        const site = await SiteRow.create(
          {
            address,
            local,
            name: connector.name,
            cms: connector.cms,
            connector,
            connectorKey: seal(connectorKey, this.config.secret),
            ownHosts: [new URL(address).host, ...connector.ownHosts],
            folders: facts.assets.folders,
            assetRegister: facts.assets.files,
          },
          { transaction },
        )
        await LensRow.bulkCreate(
          FIRST_LENSES.map((lens) => ({ siteId: site.id, ...lens })),
          { transaction },
        )
        await this.storeFacts(site, facts, transaction)
        return site
      })
      .catch((error: unknown) => {
        if (!(error instanceof UniqueConstraintError)) throw error
        const message = `${address} is registered already.`
        throw new ProblemError(409, message, [{ field: 'address', message }])
      })
    return this.view(row)
  }

  /** Asks the connector again for add-ons, pages and files. What has gone from the site keeps its past. */
  async refresh(site: SiteRow): Promise<void> {
    const connector = await describeConnector(site.address, reachOf(site))
    const client = new ConnectorClient(site.address, connector.base, this.keyOf(site), reachOf(site))
    const facts = await readFacts(client, connector)
    await this.sequelize.transaction(async (transaction) => {
      await site.update(
        {
          connector,
          cms: connector.cms,
          ownHosts: [new URL(site.address).host, ...connector.ownHosts],
          folders: facts.assets.folders,
          assetRegister: facts.assets.files,
        },
        { transaction },
      )
      await this.storeFacts(site, facts, transaction)
    })
  }

  /** The same before a sweep; a site that doesn't answer is swept as it was known, and its readings will say why they fail. */
  async refreshIfReachable(site: SiteRow): Promise<void> {
    try {
      await this.refresh(site)
    } catch (error) {
      if (!(error instanceof ConnectorError)) throw error
    }
  }

  /** Changes what the maintainer has a say in. */
  async change(site: SiteRow, { local, leastDifference }: SiteChange): Promise<Site> {
    await site.update({
      ...(local !== undefined && { local }),
      ...(leastDifference !== undefined && { leastDifference }),
    })
    return this.view(site)
  }

  connectorOf(site: SiteRow): ConnectorClient {
    return new ConnectorClient(site.address, site.connector.base, this.keyOf(site), reachOf(site))
  }

  keyOf(site: SiteRow): string {
    return site.connectorKey === null ? '' : open(site.connectorKey, this.config.secret)
  }

  async view(row: SiteRow): Promise<Site> {
    const [counts] = await this.sequelize.query<{ pages: number; addOns: number; hasReadings: boolean }>(
      `select (select count(*)::int from page where site_id = :id and not signed_in) pages,
              (select count(*)::int from add_on where site_id = :id) "addOns",
              exists (select 1 from toll join sweep on sweep.id = sweep_id where site_id = :id) "hasReadings"`,
      { replacements: { id: row.id }, type: QueryTypes.SELECT },
    )
    return {
      id: row.id,
      name: row.name,
      address: row.address,
      local: row.local,
      leastDifference: row.leastDifference,
      cms: row.cms,
      effects: row.connector.effects,
      ...counts!,
      createdAt: row.createdAt.toISOString(),
    }
  }

  private async readSite(
    address: string,
    key: string,
    reach: Reach,
  ): Promise<{ connector: ConnectorDescription; facts: SiteFacts }> {
    try {
      const connector = await describeConnector(address, reach)
      return { connector, facts: await readFacts(new ConnectorClient(address, connector.base, key, reach), connector) }
    } catch (error) {
      if (!(error instanceof ConnectorError)) throw error
      const field = FIELD_AT_FAULT[error.fault] ?? 'address'
      const message = error.fault === 'reach' ? `${error.message} ${MARK_IT_LOCAL}` : error.message
      throw new ProblemError(422, message, [{ field, message }])
    }
  }

  private async storeFacts(
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
      })),
      {
        transaction,
        updateOnDuplicate: ['title', 'kind', 'area', 'position', 'signedIn', 'modified', 'views'],
        conflictAttributes: ['siteId', 'path'],
      },
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
    await this.dropDoubles(site, inventory, transaction)
    await storeConnectorUse(this.sequelize, site.id, uses, transaction)
  }

  /** An outsider that a reading found is no entry of its own once an add-on says that the host is its. */
  private async dropDoubles(site: SiteRow, inventory: InventoryAnswer, transaction: Transaction): Promise<void> {
    const declared = inventory.addOns.flatMap(({ outsideHosts = [] }) => outsideHosts.map(registrableDomain))
    await AddOnRow.destroy({
      where: { siteId: site.id, source: 'reading', slug: declared.map(outsiderPayer) },
      transaction,
    })
  }
}

async function readFacts(client: ConnectorClient, { calls }: ConnectorDescription): Promise<SiteFacts> {
  return {
    inventory: await client.inventory(),
    pages: await client.pages(),
    assets: await client.assets(),
    uses: await client.uses(calls),
  }
}
