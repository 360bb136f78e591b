import { Inject, Injectable } from '@nestjs/common'
import { Op, QueryTypes, Sequelize } from 'sequelize'
import { compareSweeps, isOutsider, meanStep, type CompareOptions, type MeanStep, type SweptCells } from '@unvelt/core'
import {
  unpackCells,
  type ComparedTime,
  type Comparison,
  type ComparisonQuery,
  type ComparisonSide,
} from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { bufferOf } from '../ledger/buffer-of.js'
import { CellsService } from '../ledger/cells.service.js'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { RuleVersionRow } from '../rule/rule-version.model.js'
import { SiteRow } from '../site/site.model.js'
import { untimedRepeats, type SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'
import { payerChanges } from './payer-changes.js'
import { asAtOriginal } from './same-payers.js'

const TIMES = ['loadMs', 'serverMs'] as const
const LIKELY = 0.05

/** A sweep as it is set beside another: what it charged whom with, by path, and its pages. */
interface Swept {
  row: SweepRow
  site: SiteRow
  cells: SweptCells
  pages: PageRow[]
}

/** Two sweeps side by side: of one site at two times or through two lenses, or of two sites. */
@Injectable()
export class CompareService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
    private readonly packs: CellsService,
  ) {}

  async compare(wish: ComparisonQuery): Promise<Comparison> {
    const [then, now] = byOneName(await this.swept('then', wish.then), await this.swept('now', wish.now))
    const before = new Map(then.pages.map((page) => [page.path, page]))
    const known = new Map(now.pages.map((page) => [page.path, page]))
    const views = (path: string) => known.get(path)?.importedViews ?? known.get(path)?.views ?? 0
    const options: CompareOptions = {
      wanted: (path) =>
        (wish.path === undefined || path === wish.path) &&
        (wish.kind === undefined || (known.get(path) ?? before.get(path))?.kind === wish.kind),
      ...(wish.weigh === 'visits' && { weightOf: views }),
      ...(wish.outsiders === 'out' && { counts: (payer: string) => !isOutsider(payer) }),
    }
    const { pages, onlyThen, onlyNow, mean, payers } = compareSweeps(then.cells, now.cells, options)
    const readThen = new Set(then.cells.pages)
    const both = now.pages.filter(({ path }) => readThen.has(path))
    const byPath = new Map(pages.map((page) => [page.path, page]))
    const weights = new Map(pages.map(({ path, weight }) => [path, weight]))
    return {
      then: await this.side(then),
      now: await this.side(now),
      mean,
      times: await this.times(then, now, weights),
      payers: await this.named(then, now, payers),
      // In the site's own order.
      pages: now.pages.flatMap(({ id, path, title, kind }) => {
        const figures = byPath.get(path)
        return figures ? [{ ...figures, id, title, kind }] : []
      }),
      onlyThen,
      onlyNow,
      kinds: [...new Set(both.map(({ kind }) => kind))].sort(),
      visitsKnown: both.some(({ path }) => views(path) > 0),
    }
  }

  private async swept(name: 'then' | 'now', id: number): Promise<Swept> {
    const row = await this.sweeps.get(id)
    if (row.purpose !== 'survey') {
      const message = 'Expected a sweep that surveys a site; what is read for a proof is compared within itself.'
      throw new ProblemError(422, `${name}: ${message}`, [{ field: name, message }])
    }
    const site = (await SiteRow.findByPk(row.siteId))!
    const cells = unpackCells(bufferOf(await this.packs.of(row)))
    const pages = await PageRow.findAll({ where: { id: cells.pages }, order: ['position'] })
    const paths = new Map(pages.map((page) => [page.id, page.path]))
    return { row, site, pages, cells: { ...cells, pages: cells.pages.map((page) => paths.get(page) ?? '') } }
  }

  private async side({ row, site, cells }: Swept): Promise<ComparisonSide> {
    const { id, startedAt, status, repeats, lens, withoutRules } = await this.sweeps.view(row)
    const rules = withoutRules
      ? null
      : await RuleVersionRow.findOne({
          where: { siteId: site.id, putAt: { [Op.lte]: row.startedAt } },
          order: [['version', 'desc']],
        })
    return {
      sweepId: id,
      siteId: site.id,
      site: site.name,
      at: startedAt,
      status,
      lens,
      repeats,
      rulesVersion: rules?.version ?? 0,
      pages: cells.pages.length,
    }
  }

  /** What varies from reading to reading, from each page's own repeats. */
  private async times(then: Swept, now: Swept, weights: ReadonlyMap<string, number>): Promise<ComparedTime[]> {
    const [before, after] = await Promise.all([this.readings(then), this.readings(now)])
    return TIMES.flatMap((measure): ComparedTime[] => {
      const pages = [...weights].flatMap(([path, weight]) => {
        const sides = { then: before.get(path)?.[measure] ?? [], now: after.get(path)?.[measure] ?? [] }
        return sides.then.length > 0 && sides.now.length > 0 ? [{ weight, ...sides }] : []
      })
      const step = meanStep(pages)
      if (!step) return []
      const read = pages.filter((page) => page.then.length > 1 && page.now.length > 1)
      const all = read.reduce((sum, { weight }) => sum + weight, 0)
      const middle = (side: 'then' | 'now') =>
        read.reduce((sum, page) => sum + (page.weight / all) * meanOf(page[side]), 0)
      const [a, b] = [middle('then'), middle('now')]
      return [{ measure, then: a, now: b, ...timeWords(step, now.site.leastDifference * a) }]
    })
  }

  private async readings({ row }: Swept) {
    const found = await this.sequelize.query<{ path: string; loadMs: number[]; serverMs: number[] }>(
      `select path, coalesce(array_agg(load_ms) filter (where load_ms is not null), '{}') "loadMs",
              coalesce(array_agg(server_ms) filter (where server_ms is not null), '{}') "serverMs"
       from reading join page on page.id = page_id
       where sweep_id = :sweep and failure is null and variant = 'live' and repeat > :untimed group by path`,
      { replacements: { sweep: row.id, untimed: row.repeats > 1 ? untimedRepeats(row) : 0 }, type: QueryTypes.SELECT },
    )
    return new Map(found.map(({ path, ...times }) => [path, times]))
  }

  private async named(then: Swept, now: Swept, payers: ReturnType<typeof compareSweeps>['payers']) {
    const rows = await AddOnRow.findAll({
      where: { siteId: [now.site.id, then.site.id] },
      attributes: ['siteId', 'slug', 'name', 'kind'],
    })
    // Whoever both sites have is named as the later one's.
    rows.sort((a, b) => Number(a.siteId === now.site.id) - Number(b.siteId === now.site.id))
    return payerChanges(payers, then.row.inventory, now.row.inventory, new Map(rows.map((row) => [row.slug, row])))
  }
}

/** Of two copies of one site, one may tell what the other can't. */
function byOneName(then: Swept, now: Swept): [Swept, Swept] {
  const areCopies = then.site.id !== now.site.id && originalOf(then.site) === originalOf(now.site)
  const named = (one: Swept, other: Swept) =>
    areCopies && !one.site.connector && other.site.connector
      ? { ...one, cells: asAtOriginal(one.cells, other.site) }
      : one
  return [named(then, now), named(now, then)]
}

const originalOf = ({ id, copyOf }: SiteRow) => copyOf ?? id

function timeWords({ estimate, low, high, p, pages }: MeanStep, least: number) {
  // JSON has no infinity: an interval that nothing bounds is none.
  const bounded = (value: number) => (Number.isFinite(value) ? value : null)
  const word =
    p >= LIKELY
      ? 'no measurable change'
      : Math.abs(estimate) < least
        ? 'too small to matter'
        : estimate < 0
          ? 'better'
          : 'worse'
  return { difference: estimate, low: bounded(low), high: bounded(high), word, pages }
}

const meanOf = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
