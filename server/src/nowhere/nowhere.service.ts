import { Inject, Injectable } from '@nestjs/common'
import { Op, Sequelize } from 'sequelize'
import { DEFAULT_STEPS, ruleFileName, styleForCopy, styleMove, viewsInThousand, type NextMove } from '@unvelt/core'
import type { MadeCopyView, NowhereFile, NowhereRules, NowhereView } from '@unvelt/contract'
import { keepMadeCopy } from '../made-copy/keep-made-copy.js'
import { LensRow } from '../lens/lens.model.js'
import { OnDemandService } from '../on-demand/on-demand.service.js'
import type { LookedThrough, OnDemand } from '../on-demand/on-demand.model.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'
import { SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'

/** What of a site's stylesheets and scripts no page and no step has used. */
@Injectable()
export class NowhereService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly onDemand: OnDemandService,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow): Promise<NowhereView> {
    const [row, shown] = await Promise.all([this.newest(site.id), this.sweeps.toShow(site.id)])
    const looked = row && (await SweepRow.findByPk(row.wish.sweepId))
    const run = looked && (await this.runOf(looked))
    const { files, together, byViews } = await this.files(site, row?.taken.files ?? [])
    return {
      underWay: row?.state === 'waiting',
      takenAt: row && row.state === 'done' ? row.takenAt.toISOString() : null,
      failure: row?.failure ?? null,
      toLookAt: row?.taken.toLookAt ?? null,
      looked: files.length,
      sweepId: looked?.id ?? shown?.id ?? null,
      isOld: row !== null && (await this.isOld(site.id, row)),
      scripts: row?.taken.scripts ?? 0,
      lenses: run ? await this.lensesOf(run) : [],
      steps: (site.steps ?? DEFAULT_STEPS).map(({ name }) => name),
      leastBytes: Math.round(site.leastDifference * together),
      byViews,
      takesCopies: takesCopies(site),
      files,
    }
  }

  async start(site: SiteRow): Promise<NowhereView> {
    await this.sweeps.refuseWhileRunning(site.id)
    const shown = await this.sweeps.toShow(site.id)
    if (!shown) throw new ProblemError(409, 'No page has been read yet. Sweep the site first.')
    const busy = 'The files of this site are being looked through already.'
    await this.onDemand.start('nowhere', { siteId: site.id, pageId: null }, { sweepId: shown.id }, busy)
    return this.view(site)
  }

  /** What was looked through stays. */
  async stop(site: SiteRow): Promise<NowhereView> {
    const row = await this.newest(site.id)
    if (row?.state === 'waiting') await this.onDemand.stop(row.id)
    return this.view(site)
  }

  async rules(site: SiteRow, n: number): Promise<NowhereRules> {
    const file = (await this.newest(site.id))?.taken.files[n]
    if (!file) throw notFound('file')
    return { url: file.url, rules: file.rules, cleaned: file.cleaned }
  }

  /**
   * Keeps a cleaned stylesheet for a rule to name. Served from a path of its own, it names what it loads from the site's root.
   * @throws ProblemError where the site takes none, or there is none that could stand in for the file
   */
  async copy(site: SiteRow, n: number): Promise<MadeCopyView> {
    if (!takesCopies(site))
      throw new ProblemError(409, 'This site takes no copies that were made for it: its connector does not say so.')
    const row = await this.newest(site.id)
    const looked = row?.taken.files[n]
    if (!row || !looked) throw notFound('stylesheet')
    const { url, payer, cleaned, from, plain, wire, cleanedWire } = looked
    if (cleaned === null || cleanedWire === null || !from)
      throw new ProblemError(409, 'Of this stylesheet there is no cleaned file that could be served. Look again.')
    const text = styleForCopy(cleaned, url, new URL(site.address).origin)
    const fewer = Math.max(0, plain - Buffer.byteLength(text))
    const kept = await keepMadeCopy({
      ...{ siteId: site.id, from, address: url, addon: payer, text },
      file: ruleFileName(new URL(url), true),
      // What nothing speaks for was applied nowhere.
      lighterBy: { transferBytes: Math.max(0, wire - cleanedWire), decodedBytes: fewer, idleBytes: fewer },
      leftOut: looked.counts.find(({ because }) => because === null)?.rules ?? 0,
    })
    const { addon, file, content, leftOut, lighterBy } = kept
    return {
      addon,
      file,
      content,
      from: kept.from,
      leftOut,
      lighterBy: lighterBy.transferBytes,
      sweepId: row.wish.sweepId,
    }
  }

  /**
   * What is to be done about them, as far as they were looked through; nothing where a newer sweep has been read since.
   * @param listed Add-ons that another move would make lighter already.
   */
  async move(site: SiteRow, listed: ReadonlySet<string>): Promise<NextMove | null> {
    const row = await this.newest(site.id)
    if (row?.state !== 'done' || (await this.isOld(site.id, row))) return null
    const { files, together } = await this.files(site, row.taken.files)
    const own = files.filter(({ type, isOwn, payer }) => type === 'style' && isOwn && !listed.has(payer))
    return styleMove(
      own.map(({ n, wire, cleanedWire, spared, counts }) => ({
        less: wire - (cleanedWire ?? wire),
        spared,
        pageIds: row.taken.files[n]!.pageIds,
        rules: counts.find(({ because }) => because === null)?.rules ?? 0,
      })),
      Math.round(site.leastDifference * together),
    )
  }

  private async isOld(siteId: number, { wish }: OnDemand<'nowhere'>): Promise<boolean> {
    const [shown, looked] = await Promise.all([this.sweeps.toShow(siteId), SweepRow.findByPk(wish.sweepId)])
    return shown !== null && (shown.runId ?? shown.id) !== (looked?.runId ?? looked?.id)
  }

  private async newest(siteId: number): Promise<OnDemand<'nowhere'> | null> {
    const [row] = await this.onDemand.newest('nowhere', { siteId, pageId: null })
    return row ?? null
  }

  private runOf(sweep: SweepRow): Promise<SweepRow[]> {
    const run = sweep.runId ?? sweep.id
    return SweepRow.findAll({ where: { siteId: sweep.siteId, [Op.or]: [{ runId: run }, { id: run }] } })
  }

  private async lensesOf(run: readonly SweepRow[]): Promise<string[]> {
    const ids = run.flatMap(({ lensId }) => lensId ?? [])
    const rows = await LensRow.findAll({ where: { id: ids }, order: ['id'], paranoid: false })
    return rows.map(({ name }) => name)
  }

  private async files(site: SiteRow, looked: readonly LookedThrough[]) {
    const pages = await PageRow.findAll({ where: { siteId: site.id, area: 'public', signedIn: false, gone: false } })
    const views = new Map(pages.map((page) => [page.id, { views: page.importedViews ?? page.views }]))
    const visits = { views: [...views.values()].reduce((sum, one) => sum + (one.views ?? 0), 0), pages: pages.length }
    const inThousand = (pageIds: readonly number[]) =>
      pageIds.reduce((sum, id) => sum + (views.has(id) ? viewsInThousand(views.get(id)!, visits) : 0), 0)
    const files = looked.map(
      (
        { type = 'style', url, payer, isOwn, plain, wire, pageIds, sweeps, counts, cleaned, cleanedWire, from, why },
        n,
      ): NowhereFile => ({
        ...{ n, type, url, payer, isOwn, plain, wire, sweeps, counts, cleanedWire, why },
        pages: pageIds.length,
        isCleaned: cleaned !== null && cleanedWire !== null && !!from,
        spared: cleanedWire === null ? 0 : Math.max(0, Math.round((wire - cleanedWire) * inThousand(pageIds))),
      }),
    )
    const together = looked.reduce(
      (sum, { type, wire, pageIds }) => sum + (type === 'script' ? 0 : wire * inThousand(pageIds)),
      0,
    )
    return { files, together, byViews: visits.views > 0 }
  }
}

const takesCopies = ({ connector, connectorKey }: SiteRow): boolean =>
  connectorKey !== null && connector?.calls?.includes('POST /copies') === true
