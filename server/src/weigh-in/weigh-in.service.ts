import { Inject, Injectable } from '@nestjs/common'
import { Op, Sequelize } from 'sequelize'
import { attribute, payerDifferences, tolls, type Toll } from '@unvelt/core'
import {
  WEIGH_IN_REPEATS,
  type Shelf,
  type WeighedPage,
  type WeighedVariant,
  type WeighIn,
  type WeighInRequest,
  type WeighInSummary,
} from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { CONFIG } from '../config/config.module.js'
import type { Config } from '../config/config.js'
import { PageRow, pageView } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import { reachOf } from '../reach/reach.js'
import { pictureOf, pictureSize } from '../reading/picture-store.js'
import { ReadingRow } from '../reading/reading.model.js'
import { readDetail } from '../reading/reading-store.js'
import { LiveRulesService } from '../rule/live-rules.service.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import { open } from '../site-http/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { addOnsOf, planVariants } from './plan-variants.js'
import { variantProblems } from './variant-problems.js'
import { variantCosts, weighedFigures, type VariantReading } from './weigh-in-view.js'
import { WeighInRow } from './weigh-in.model.js'

const MOST_SHOWN = 100
const MOST_COMPLAINTS = 20
const MOST_PAYERS = 8
/** Headers of one page differ by so much from load to load. */
const LEAST_BYTES = 200

/** Variants of a page against each other, on the same content, read in turn. */
@Injectable()
export class WeighInService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    @Inject(CONFIG) private readonly config: Config,
    private readonly sweeps: SweepService,
    private readonly liveRules: LiveRulesService,
  ) {}

  async start(
    site: SiteRow,
    { title, pageIds, variants, lensId, repeats, onCopies = false }: WeighInRequest,
  ): Promise<WeighIn> {
    const pages = await PageRow.findAll({ where: { siteId: site.id, id: pageIds } })
    if (pages.length < new Set(pageIds).size) throw notFound('page')
    const triesAddOns = site.connector?.measuring?.addOns === true
    const addOns = await AddOnRow.findAll({ where: { siteId: site.id, gone: false } })
    const shelf = variants.some(({ versions = [] }) => versions.length > 0) ? (await this.shelf(site)).addOns : []
    const known = { addOns, shelf, triesAddOns, setsValues: site.connector?.effects.includes('set') === true }
    const problems = variantProblems(variants, known)
    if (problems.length > 0) throw new ProblemError(422, problems[0]!.message, problems)
    if (onCopies) refuseCopies(site, pages)
    const { rules } = await this.liveRules.current(site.id)
    const canSkip = new Set(addOns.filter((row) => site.connector && row.canSkip).map(({ slug }) => slug))
    const planned = planVariants(variants, {
      live: rules,
      paths: pages.map(({ path }) => path),
      triesAddOns,
      onCopies,
      canSkip: (slug) => canSkip.has(slug),
    })
    let row: WeighInRow | null = null
    await this.sweeps.start(site, {
      purpose: 'weigh-in',
      pageIds,
      repeats: repeats ?? WEIGH_IN_REPEATS,
      variants: planned,
      onCopies,
      ...(lensId !== undefined && { lensId }),
      also: async (sweep, transaction) => {
        row = await WeighInRow.create(
          {
            siteId: site.id,
            sweepId: sweep.id,
            title: title?.trim() || variants.map(({ name }) => name).join(' · '),
            variants,
            addOns: addOnsOf(variants),
          },
          { transaction },
        )
      },
    })
    return this.view(row!)
  }

  /** The site's own, or, for an add-on, what was weighed of it anywhere. Newest first. */
  async list(where: { siteId: number } | { addOn: string }): Promise<WeighInSummary[]> {
    const rows = await WeighInRow.findAll({
      where: 'siteId' in where ? where : { addOns: { [Op.contains]: [where.addOn] } },
      order: [['id', 'desc']],
      limit: MOST_SHOWN,
    })
    return Promise.all(rows.map((row) => this.summary(row)))
  }

  async get(id: number): Promise<WeighInRow> {
    const row = await WeighInRow.findByPk(id)
    if (!row) throw notFound('weigh-in')
    return row
  }

  async view(row: WeighInRow): Promise<WeighIn> {
    const [summary, sweep, site] = await Promise.all([
      this.summary(row),
      this.sweeps.get(row.sweepId),
      SiteRow.findByPk(row.siteId),
    ])
    const readings = await readingsOf(row)
    const pages = await PageRow.findAll({
      where: { id: [...new Set(readings.map(({ pageId }) => pageId))] },
      order: ['position'],
    })
    const ids = pages.map(({ id }) => id)
    const figures = weighedFigures(readings, ids, row.variants.length, site!.leastDifference)
    return {
      ...summary,
      sweep: await this.sweeps.view(sweep),
      pages: await Promise.all(
        pages.map(async (page, n) => ({
          page: pageView(page),
          figures: figures[n]!,
          looks: await this.looks(row, page.id),
        })),
      ),
    }
  }

  async picture({ sweepId }: WeighInRow, pageId: number, variant: number): Promise<Buffer | null> {
    return pictureOf(this.sequelize, { sweepId, pageId, variant: `variant-${variant}` })
  }

  /** Figures and all; the site is as it was before. */
  async remove(row: WeighInRow): Promise<void> {
    const sweep = await this.sweeps.get(row.sweepId)
    if (sweep.status === 'running' || sweep.status === 'paused') await this.sweeps.cancel(sweep)
    await row.destroy()
    await SweepRow.destroy({ where: { id: row.sweepId } })
  }

  /** What the site could try; nothing where its connector can't. */
  async shelf(site: SiteRow): Promise<Shelf> {
    const canTry = site.connector?.measuring?.addOns === true && site.connector.calls?.includes('GET /shelf') === true
    const canCopy = makesCopies(site)
    if (!canTry) return { canTry, canCopy, addOns: [] }
    const key = site.connectorKey === null ? '' : open(site.connectorKey, this.config.secret)
    const offered = await new ConnectorClient(site.address, site.connector!.base, key, reachOf(site))
      .shelf()
      .catch((error: unknown) => {
        if (error instanceof ConnectorError) throw new ProblemError(502, error.message)
        throw error
      })
    const here = await AddOnRow.findAll({ where: { siteId: site.id, gone: false }, attributes: ['slug', 'version'] })
    const installed = new Map(here.map(({ slug, version }) => [slug, version]))
    return {
      canTry,
      canCopy,
      addOns: offered.map(({ slug, name, version, kind, summary }) => ({
        slug,
        name,
        version,
        kind,
        summary: summary ?? null,
        installed: installed.get(slug) ?? null,
      })),
    }
  }

  private async summary(row: WeighInRow): Promise<WeighInSummary> {
    const [site, sweep, readings] = await Promise.all([
      SiteRow.findByPk(row.siteId, { attributes: ['name'] }),
      SweepRow.findByPk(row.sweepId, { attributes: ['status', 'onCopies'] }),
      readingsOf(row),
    ])
    const ids = [...new Set(readings.map(({ pageId }) => pageId))]
    return {
      id: row.id,
      siteId: row.siteId,
      siteName: site!.name,
      title: row.title,
      createdAt: row.createdAt.toISOString(),
      status: sweep!.status,
      onCopies: sweep!.onCopies,
      variants: row.variants,
      costs: variantCosts(readings, ids, row.variants.length),
    }
  }

  private async looks({ sweepId, variants }: WeighInRow, pageId: number): Promise<WeighedPage['looks']> {
    const sweep = await this.sweeps.get(sweepId)
    const names = new Map(
      (await AddOnRow.findAll({ where: { siteId: sweep.siteId }, attributes: ['slug', 'name'] })).map((row) => [
        row.slug,
        row.name,
      ]),
    )
    const looks = await Promise.all(variants.map((_, n) => lookOf(sweep, pageId, n)))
    const [first] = looks
    const known = new Set(first!.complaints)
    return Promise.all(
      variants.map(async (_: WeighedVariant, n) => ({
        hasPicture: (await pictureSize(this.sequelize, { sweepId, pageId, variant: `variant-${n}` })) !== null,
        complaints: n === 0 ? [] : looks[n]!.complaints.filter((text) => !known.has(text)).slice(0, MOST_COMPLAINTS),
        payers:
          n === 0 || !first!.tolls || !looks[n]!.tolls
            ? []
            : payerDifferences(first!.tolls, looks[n]!.tolls)
                .filter(({ requests, transferBytes }) => requests !== 0 || Math.abs(transferBytes) >= LEAST_BYTES)
                .slice(0, MOST_PAYERS)
                .map((one) => ({ ...one, name: names.get(one.payer) ?? one.payer })),
      })),
    )
  }
}

const makesCopies = ({ connector }: SiteRow): boolean =>
  connector?.measuring?.drafts === true &&
  ['POST /scratch', 'POST /scratch/remove'].every((call) => connector.calls?.includes(call))

function refuseCopies(site: SiteRow, pages: readonly PageRow[]): void {
  const refused = (message: string) => new ProblemError(422, message, [{ field: 'onCopies', message }])
  if (!makesCopies(site)) throw refused('This site makes no copies of pages to try things on.')
  const closed = pages.find(({ signedIn }) => signedIn)
  if (closed) throw refused(`${closed.path} is for signed-in people only, and can’t be copied to an open address.`)
}

async function readingsOf({ sweepId }: WeighInRow): Promise<VariantReading[]> {
  const rows = await ReadingRow.findAll({
    where: { sweepId, failure: null },
    attributes: ['pageId', 'variant', 'figures'],
    order: ['repeat'],
  })
  return rows.flatMap(({ pageId, variant, figures }) =>
    figures ? [{ pageId, variant: Number(/\d+$/.exec(variant)![0]), figures }] : [],
  )
}

interface Look {
  complaints: string[]
  /** Null where what came is not known any more. */
  tolls: Toll[] | null
}

/** By the reading that looked at everything. */
async function lookOf({ id, sources }: SweepRow, pageId: number, variant: number): Promise<Look> {
  const row = await ReadingRow.findOne({
    where: { sweepId: id, pageId, variant: `variant-${variant}`, failure: null },
    order: ['repeat'],
  })
  // What came with the demo was recorded without it.
  if (!row || (row.detail === null && row.detailIn === null)) return { complaints: [], tolls: null }
  const reading = await readDetail(row)
  return { complaints: reading.consoleErrors, tolls: tolls(reading, attribute(reading, sources)) }
}
