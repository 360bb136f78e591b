import { Inject, Injectable } from '@nestjs/common'
import { Op, QueryTypes, Sequelize } from 'sequelize'
import { staleFigures, type ReadPage, type RuleState, type StaleCause } from '@unvelt/core'
import type { Stale, StaleCauseView } from '@unvelt/contract'
import { AddOnRow, inventoryEntry } from '../add-on/add-on.model.js'
import { LensRow, visitOf } from '../lens/lens.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { RetirementRow } from '../retirement/retirement.model.js'
import { RuleVersionRow } from '../rule/rule-version.model.js'
import type { SiteRow } from '../site/site.model.js'
import { onlyTolls, type InventoryEntry, type SweepRow } from '../sweep/sweep.model.js'
import { SweepService } from '../sweep/sweep.service.js'

const MOST_NAMED = 5

/** Which figures hold no longer, because something was changed after they were read; and reads just these again. */
@Injectable()
export class StaleService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly sweeps: SweepService,
  ) {}

  async view(site: SiteRow, sweep: SweepRow): Promise<Stale> {
    const lens = sweep.lensId === null ? null : await LensRow.findByPk(sweep.lensId, { paranoid: false })
    const now = site.connector ? await inventoryOf(site.id) : sweep.inventory
    const pages = await this.pagesOf(sweep, differing(sweep.inventory, now))
    // What came from a file was read of a site that nobody knows the state of.
    const versions = lens && sweep.variants[0]?.rules === 'live' ? await this.versionsSince(site.id, pages) : []
    const { causes, pages: stale } = lens
      ? staleFigures(pages, {
          versions,
          before: sweep.inventory,
          now,
          visit: visitOf(lens),
        })
      : { causes: [], pages: [] }
    const path = new Map(pages.map((page) => [page.id, page.path]))
    const retired = await RetirementRow.findAll({ where: { siteId: site.id, offAt: { [Op.ne]: null } } })
    return {
      sweepId: sweep.id,
      pagesRead: pages.length,
      causes: causes.map((cause, at) => ({
        ...NOTHING_KNOWN,
        ...told(cause, { versions, retired }),
        pages: stale.filter((page) => page.causes.includes(at)).length,
      })),
      pages: stale.map(({ id, causes }) => ({ id, path: path.get(id)!, causes })),
      whyNotAgain: whyNotAgain(sweep, lens),
    }
  }

  /** @param pageIds Of those that are stale, just these; all of them else. */
  async readAgain(site: SiteRow, sweep: SweepRow, pageIds?: number[]): Promise<SweepRow> {
    const { pages, whyNotAgain } = await this.view(site, sweep)
    if (whyNotAgain) throw new ProblemError(409, whyNotAgain)
    const wanted = pageIds && new Set(pageIds)
    const ids = pages.flatMap(({ id }) => (!wanted || wanted.has(id) ? [id] : []))
    if (ids.length === 0) throw new ProblemError(409, 'Nothing was changed since these pages were read.')
    return this.sweeps.readAnew(site, sweep, ids)
  }

  /** @param slugs Of whom it matters where they have a toll. */
  private async pagesOf(sweep: SweepRow, slugs: string[]): Promise<ReadPage[]> {
    const rows = await this.sequelize.query<Omit<ReadPage, 'payers' | 'readAt'> & { readAt: Date }>(
      `select page.id, path, kind, area, modified::text, read.at "readAt"
       from (select page_id, min(read_at) at from reading where sweep_id = $1 and failure is null group by page_id) read
       join page on page.id = read.page_id where not page.gone order by page.position`,
      { bind: [sweep.id], type: QueryTypes.SELECT },
    )
    const payers = rows.length === 0 || slugs.length === 0 ? new Map() : await this.paying(sweep, slugs)
    return rows.map((row) => ({ ...row, readAt: row.readAt.getTime(), payers: payers.get(row.id) ?? NOBODY }))
  }

  /** By page, those of some that cost it something. A row for each payer: of a large site they are hundreds of thousands by page. */
  private async paying({ id, variants }: SweepRow, slugs: readonly string[]): Promise<Map<number, Set<string>>> {
    const rows = await this.sequelize.query<{ payer: string; pageIds: number[] }>(
      `select payer, array_agg(page_id) "pageIds" from toll
       where sweep_id = $1 and variant = any($2) and payer = any($3) and (requests > 0 or server_ms > 0) group by payer`,
      { bind: [id, variants.map(({ name }) => name), slugs], type: QueryTypes.SELECT },
    )
    const payers = new Map<number, Set<string>>()
    for (const { payer, pageIds } of rows)
      for (const pageId of pageIds) {
        const known = payers.get(pageId)
        if (known) known.add(payer)
        else payers.set(pageId, new Set([payer]))
      }
    return payers
  }

  /** What was put live since the first of these pages was read, and what was live then; oldest first. */
  private async versionsSince(siteId: number, pages: readonly ReadPage[]): Promise<RuleState[]> {
    if (pages.length === 0) return []
    const since = new Date(pages.reduce((least, { readAt }) => Math.min(least, readAt), Infinity))
    const [before, after] = await Promise.all([
      RuleVersionRow.findOne({ where: { siteId, putAt: { [Op.lte]: since } }, order: [['putAt', 'desc']] }),
      RuleVersionRow.findAll({ where: { siteId, putAt: { [Op.gt]: since } }, order: ['putAt', 'version'] }),
    ])
    return [...(before ? [before] : []), ...after].map(({ version, putAt, rules, what }) => ({
      version,
      at: putAt.getTime(),
      rules,
      what,
    }))
  }
}

const NOBODY: ReadonlySet<string> = new Set()

const inventoryOf = async (siteId: number): Promise<InventoryEntry[]> =>
  (await AddOnRow.findAll({ where: { siteId, source: 'connector', gone: false } })).map(inventoryEntry)

/** Slugs of all that is not as it was. */
function differing(before: readonly InventoryEntry[], now: readonly InventoryEntry[]): string[] {
  const text = (all: readonly InventoryEntry[]) =>
    new Map(all.map(({ slug, version, active, featuresOn }) => [slug, JSON.stringify([version, active, featuresOn])]))
  const [was, is] = [text(before), text(now)]
  return [...new Set([...was.keys(), ...is.keys()])].filter((slug) => was.get(slug) !== is.get(slug))
}

const NOTHING_KNOWN: Omit<StaleCauseView, 'kind' | 'pages'> = {
  name: '',
  slug: null,
  version: null,
  from: null,
  to: null,
  by: [],
  at: null,
}

interface Known {
  versions: readonly (RuleState & { what?: string })[]
  retired: readonly RetirementRow[]
}

function told(cause: StaleCause, { versions, retired }: Known): Pick<StaleCauseView, 'kind'> & Partial<StaleCauseView> {
  if (cause.kind === 'words') return cause
  if (cause.kind !== 'rules') {
    const gone = cause.kind === 'off' ? retired.find(({ slug }) => slug === cause.slug) : undefined
    return { ...cause, at: gone?.offAt?.toISOString() ?? null }
  }
  const at = versions.findIndex(({ version }) => version === cause.version)
  const { at: putAt, what = '', rules } = versions[at]!
  const had = new Set((versions[at - 1]?.rules ?? []).map(({ id }) => id))
  const authors = new Set(rules.flatMap(({ id, author }) => (author && !had.has(id) ? [author] : [])))
  return { ...cause, name: what, at: new Date(putAt).toISOString(), by: [...authors].slice(0, MOST_NAMED) }
}

function whyNotAgain(sweep: SweepRow, lens: LensRow | null): string | null {
  const { purpose, status, variants } = sweep
  if (sweep.thinnedAt) return onlyTolls(sweep)
  if (purpose !== 'survey' || variants[0]?.rules !== 'live' || !lens)
    return 'Only a survey of the live site can be read again in part.'
  if (lens.removedAt) return `The lens ${lens.name} was removed.`
  return status === 'done' ? null : 'The sweep has not been read to its end.'
}
