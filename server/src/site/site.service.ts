import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize, UniqueConstraintError, type CreationAttributes, type Transaction } from 'sequelize'
import type { Site, SiteChange, SiteRegistration } from '@unvelt/contract'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { findPages, type FoundPages } from '../from-outside/find-pages.js'
import { storeFoundPages } from '../from-outside/store-found-pages.js'
import { FIRST_LENSES } from '../lens/lens-settings.js'
import { LensRow } from '../lens/lens.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { ConnectorClient, ConnectorError, describeConnector, unreachable } from '../site-http/connector-client.js'
import type { ConnectorDescription } from '@unvelt/contract'
import { reachOf, type Reach } from '../reach/reach.js'
import { open, seal } from '../site-http/secret-box.js'
import type { SiteWay } from '../site-http/site-way.js'
import { waysChanged } from '../site-http/way-book.js'
import { openAccess } from '../site-http/access-book.js'
import { accessHeaders, knockWith, type SiteAccess } from '../site-http/site-access.js'
import { accessOfWish, accessView, tryAccess } from './access-wish.js'
import { siteOrigin } from './site-address.js'
import { byWay, certificateView, hostsByName, refuseOddCopy, refuseTaken, wayOfWish } from './site-ways.js'
import { effectsOf } from './site-effects.js'
import { refuseNeverOpen } from './quiet-times.js'
import { SiteRow } from './site.model.js'
import { readFacts, storeFacts, type SiteFacts } from './store-facts.js'

const FIELD_AT_FAULT: Record<string, string> = {
  key: 'connectorKey',
  reach: 'local',
  access: 'access',
  certificate: 'certificate',
}
const MARK_IT_LOCAL = 'Such addresses are closed unless the site is marked as local.'

/** Asks a site that nobody knows yet by what it is said to let one in. */
const knocking = <T>(address: string, access: SiteAccess | null, run: () => Promise<T>): Promise<T> =>
  access ? knockWith(new URL(address).host, accessHeaders(access), run) : run()

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
  async register({
    address: typed,
    connectorKey = '',
    local = false,
    access,
    ...wish
  }: SiteRegistration): Promise<Site> {
    const address = siteOrigin(typed)
    const wished = access ? accessOfWish(access, null) : null
    const way = await this.wayFor(address, wish, reachOf({ local }))
    const { connector, facts } = await byWay(address, way, () =>
      knocking(address, wished, () => this.readSite(address, connectorKey, reachOf({ local }))),
    )
    return this.store(
      {
        address,
        local,
        certificate: way.certificate,
        hosts: wish.hosts ?? [],
        access: this.sealed(wished),
        connectorKey: seal(connectorKey, this.config.secret),
        ...described(address, connector, facts),
      },
      (site, transaction) => storeFacts(this.sequelize, site, facts, transaction),
    )
  }

  /** Registers a site that tells nothing of itself: its pages are found as any visitor would find them. */
  async registerFromOutside({ address: typed, local = false, access, ...wish }: SiteRegistration): Promise<Site> {
    const address = siteOrigin(typed)
    const wished = access ? accessOfWish(access, null) : null
    const way = await this.wayFor(address, wish, reachOf({ local }))
    const found = await byWay(address, way, async () => {
      await tryAccess(address, wished, reachOf({ local }))
      return knocking(address, wished, () => this.lookFromOutside(address, reachOf({ local })))
    })
    const { host } = new URL(address)
    return this.store(
      {
        address,
        local,
        certificate: way.certificate,
        hosts: wish.hosts ?? [],
        access: this.sealed(wished),
        name: found.name ?? host,
        cms: { name: '', version: '' },
        connector: null,
        connectorKey: null,
        ownHosts: [host],
        folders: [],
        assetRegister: {},
        pagesFrom: found.from,
      },
      (site, transaction) => storeFoundPages(site, found, transaction),
    )
  }

  /** @throws ProblemError where a site can't be reached that way, or a name is somebody else's. */
  private async wayFor(
    address: string,
    { hosts = [], certificate }: Pick<SiteRegistration, 'hosts' | 'certificate'>,
    reach: Reach,
  ): Promise<SiteWay> {
    await refuseTaken(hosts, null)
    return wayOfWish(address, { hosts, certificate: certificate ?? null }, reach)
  }

  private async store(
    given: CreationAttributes<SiteRow>,
    storeRest: (site: SiteRow, transaction: Transaction) => Promise<void>,
  ): Promise<Site> {
    const row = await this.sequelize
      .transaction(async (transaction) => {
        const site = await SiteRow.create(given, { transaction })
        await LensRow.bulkCreate(
          FIRST_LENSES.map((lens) => ({ siteId: site.id, ...lens })),
          { transaction },
        )
        await storeRest(site, transaction)
        return site
      })
      .catch((error: unknown) => {
        if (!(error instanceof UniqueConstraintError)) throw error
        const message = `${given.address} is registered already.`
        throw new ProblemError(409, message, [{ field: 'address', message }])
      })
    waysChanged()
    return this.view(row)
  }

  /** Asks the site again for add-ons, pages and files. What has gone from it keeps its past. */
  async refresh(site: SiteRow): Promise<void> {
    if (!site.connector) {
      const found = await this.lookFromOutside(site.address, reachOf(site))
      await this.sequelize.transaction(async (transaction) => {
        await site.update({ pagesFrom: found.from }, { transaction })
        await storeFoundPages(site, found, transaction)
      })
      return
    }
    const connector = await describeConnector(site.address, reachOf(site))
    const facts = await readFacts(
      new ConnectorClient(site.address, connector.base, this.keyOf(site), reachOf(site)),
      connector,
    )
    await this.sequelize.transaction(async (transaction) => {
      await site.update(described(site.address, connector, facts), { transaction })
      await storeFacts(this.sequelize, site, facts, transaction)
    })
  }

  /** The same on demand: what fails is told. */
  async refreshSaid(site: SiteRow): Promise<void> {
    try {
      await this.refresh(site)
    } catch (error) {
      if (error instanceof ConnectorError) throw refused(error)
      throw error
    }
  }

  /** The same before a sweep; a site that doesn't answer is swept as it was known, and its readings will say why they fail. */
  async refreshIfReachable(site: SiteRow): Promise<void> {
    try {
      await this.refresh(site)
    } catch (error) {
      if (!(error instanceof ConnectorError) && !(error instanceof ProblemError)) throw error
    }
  }

  /** Changes what the maintainer has a say in. */
  async change(site: SiteRow, change: SiteChange): Promise<Site> {
    const { local, leastDifference, net, quiet, access, hosts, certificate, copyOf } = change
    if (quiet) refuseNeverOpen(quiet)
    if (copyOf != null) await refuseOddCopy(copyOf, site.id)
    const wished = access && accessOfWish(access, this.accessOf(site))
    const reach = reachOf({ local: local ?? site.local })
    const way = await this.changedWay(site, change, reach)
    if (access !== undefined) await byWay(site.address, way, () => tryAccess(site.address, wished ?? null, reach))
    await site.update({
      ...(hosts !== undefined && { hosts }),
      ...(certificate !== undefined && { certificate: way.certificate }),
      ...(copyOf !== undefined && { copyOf }),
      ...(access !== undefined && { access: this.sealed(wished ?? null) }),
      ...(local !== undefined && { local }),
      ...(leastDifference !== undefined && { leastDifference }),
      ...(net !== undefined && { net }),
      ...(quiet !== undefined && { quiet }),
    })
    waysChanged()
    return this.view(site)
  }

  private async changedWay(site: SiteRow, { hosts, certificate }: SiteChange, reach: Reach): Promise<SiteWay> {
    if (hosts) await refuseTaken(hosts, site.id)
    if (certificate === undefined) return { certificate: site.certificate, hosts: hostsByName(hosts ?? site.hosts) }
    return wayOfWish(site.address, { hosts: hosts ?? site.hosts, certificate }, reach)
  }

  /** @throws ProblemError where the site has none. */
  connectorOf(site: SiteRow): ConnectorClient {
    if (!site.connector)
      throw new ProblemError(409, `${site.name} has no connector, so nothing can be put live there from here.`)
    return new ConnectorClient(site.address, site.connector.base, this.keyOf(site), reachOf(site))
  }

  private sealed(access: SiteAccess | null): string | null {
    return access && seal(JSON.stringify(access), this.config.secret)
  }

  private accessOf({ access }: SiteRow): SiteAccess | null {
    return access && openAccess(access, this.config.secret)
  }

  keyOf(site: SiteRow): string {
    return site.connectorKey === null ? '' : open(site.connectorKey, this.config.secret)
  }

  async view(row: SiteRow): Promise<Site> {
    const [counts] = await this.sequelize.query<{ pages: number; addOns: number; hasReadings: boolean }>(
      `select (select count(*)::int from page where site_id = :id and not signed_in and not gone) pages,
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
      net: row.net,
      quiet: row.quiet,
      cms: row.cms,
      access: accessView(this.accessOf(row)),
      hosts: row.hosts,
      certificate: row.certificate && certificateView(row.certificate, null),
      copyOf: row.copyOf,
      effects: [...effectsOf(row)],
      asksFirst: !row.connector || row.connector.firstFiles === true,
      hasConnector: row.connector !== null,
      pagesFrom: row.pagesFrom,
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
      throw refused(error)
    }
  }

  private async lookFromOutside(address: string, reach: Reach): Promise<FoundPages> {
    const { host } = new URL(address)
    try {
      return await findPages(address, reach)
    } catch (error) {
      throw refused(unreachable(error, host))
    }
  }
}

/** What the connector says of the site itself, as its row has it. */
function described(address: string, connector: ConnectorDescription, { assets }: SiteFacts) {
  return {
    name: connector.name,
    cms: connector.cms,
    connector,
    ownHosts: [new URL(address).host, ...connector.ownHosts],
    folders: assets.folders,
    assetRegister: assets.files,
  }
}

/** A site that can't be used, as a form can show it. */
function refused({ fault, message: said }: ConnectorError): ProblemError {
  const field = FIELD_AT_FAULT[fault] ?? 'address'
  const message = fault === 'reach' ? `${said} ${MARK_IT_LOCAL}` : said
  return new ProblemError(422, message, [{ field, message }])
}
