import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import { PATTERN_KIND } from './kinds.js'
import type { AddOn, AddOnChange, AddOnPast, AddOnSheet, NewAddOn, UseOnPage } from '@unvelt/contract'
import { filesOfPayer } from '../toll/file-toll-store.js'
import { PageRow } from '../page/page.model.js'
import { notFound, ProblemError } from '../problem/problem.error.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { useFacts } from '../use/use-store.js'
import { UseService } from '../use/use.service.js'
import { openQuestionsOf, questionsOf, verdictHistory, verdictsOf } from '../verdict/verdict-store.js'
import { AddOnRow, NO_ADD_ON } from './add-on.model.js'
import { addOnView } from './add-on-view.js'

/** The inventory: everything that the site loads, whoever told of it. */
@Injectable()
export class AddOnService {
  constructor(
    @Inject(Sequelize) private readonly sequelize: Sequelize,
    private readonly use: UseService,
  ) {}

  async list(siteId: number): Promise<AddOn[]> {
    const rows = await AddOnRow.findAll({ where: { siteId }, order: ['name'], raw: true })
    const [verdicts, open] = await Promise.all([
      verdictsOf(this.sequelize, siteId),
      openQuestionsOf(this.sequelize, siteId),
    ])
    return rows.map((row) => addOnView(row, verdicts.get(row.slug), open.get(row.slug) ?? 0))
  }

  async get(siteId: number, slug: string): Promise<AddOnRow> {
    const row = await AddOnRow.findOne({ where: { siteId, slug } })
    if (!row) throw notFound('add-on')
    return row
  }

  /** Writes the maintainer's words over what the site tells. An empty one takes a word back. */
  async change(siteId: number, slug: string, change: AddOnChange): Promise<void> {
    const row = await this.get(siteId, slug)
    const said = Object.entries({ ...row.byHand, ...change }).filter(
      ([, value]) => value !== undefined && value !== '' && !(Array.isArray(value) && value.length === 0),
    )
    await row.update({ byHand: Object.fromEntries(said) })
  }

  async add(siteId: number, { slug, ...facts }: NewAddOn): Promise<void> {
    if ((await AddOnRow.count({ where: { siteId, slug } })) > 0)
      throw new ProblemError(409, 'The inventory has an entry of this slug.', [
        { field: 'slug', message: 'There is one already.' },
      ])
    await AddOnRow.create({
      ...NO_ADD_ON,
      siteId,
      slug,
      kind: facts.kind ?? PATTERN_KIND,
      name: facts.name || slug,
      summary: '',
      source: 'hand',
      byHand: facts,
    })
  }

  /** Only what was added by hand, or has gone from the site, can be taken out; all else would come back by itself. */
  async remove(siteId: number, slug: string): Promise<void> {
    const row = await this.get(siteId, slug)
    if (row.source !== 'hand' && row.source !== 'import' && !row.gone)
      throw new ProblemError(409, 'The site still tells of it, so it would come back. Give it a verdict instead.')
    await row.destroy()
  }

  async sheet(siteId: number, slug: string, sweep: SweepRow | null): Promise<AddOnSheet> {
    const all = await this.list(siteId)
    const addOn = all.find((each) => each.slug === slug)
    if (!addOn) throw notFound('add-on')
    const facts = await useFacts(this.sequelize, siteId, sweep?.id ?? null, slug)
    const pages = await PageRow.findAll({ where: { siteId }, order: ['position'] })
    const pathOf = new Map(pages.map(({ id, path }) => [id, path]))
    return {
      addOn,
      neededBy: all.filter(({ needs, gone }) => !gone && needs.includes(slug)).map((each) => each.slug),
      sameJob: all
        .filter((each) => each.slug !== slug && !each.gone && each.jobs.some((job) => addOn.jobs.includes(job)))
        .map((each) => each.slug),
      use: await this.useOnPages(siteId, slug, sweep, pages),
      facts: facts.map(({ pageId, ...fact }) => ({
        ...fact,
        pageId,
        path: pageId === null ? null : (pathOf.get(pageId) ?? null),
      })),
      verdicts: await verdictHistory(this.sequelize, siteId, slug),
      questions: await questionsOf(this.sequelize, siteId, slug),
      past: await this.past(siteId, slug),
      loaded: sweep ? await filesOfPayer(this.sequelize, sweep, slug) : [],
    }
  }

  private async useOnPages(
    siteId: number,
    slug: string,
    sweep: SweepRow | null,
    pages: readonly PageRow[],
  ): Promise<UseOnPage[]> {
    const words = await this.use.words(siteId, sweep)
    const touches = new Map(
      (await this.use.touches(siteId)).filter((t) => t.slug === slug).map((t) => [t.pageId, t.touches]),
    )
    const shown = sweep ? pages.filter(({ id }) => words.hasLooked(id) || words.factsOf(slug, id).length > 0) : pages
    return shown.map(({ id }) => ({
      pageId: id,
      word: words.wordOf(slug, id),
      touches: touches.get(id) ?? null,
      because: words.factsOf(slug, id).map(({ because }) => because),
    }))
  }

  /** Surveys through the site's first lens that were read to their end, oldest first. */
  private async past(siteId: number, slug: string): Promise<AddOnPast[]> {
    const rows = await this.sequelize.query<{ entry: { version: string | null; active: boolean } | null } & AddOnPast>(
      `select sweep.id "sweepId", started_at "at", count(toll.page_id)::int pages,
         (select entry from jsonb_array_elements(inventory) entry where entry ->> 'slug' = :slug limit 1) entry,
         json_build_object(
           'requests', coalesce(sum(requests), 0), 'transferBytes', coalesce(sum(transfer_bytes), 0),
           'decodedBytes', coalesce(sum(decoded_bytes), 0), 'idleBytes', coalesce(sum(idle_bytes), 0),
           'mainThreadMs', coalesce(sum(main_thread_ms), 0), 'serverMs', coalesce(sum(server_ms), 0),
           'queries', coalesce(sum(queries), 0), 'queryMs', coalesce(sum(query_ms), 0)) tolls
       from sweep left join toll on toll.sweep_id = sweep.id and payer = :slug and variant = 'live'
       where site_id = :siteId and purpose = 'survey' and status = 'done' and variants -> 0 ->> 'rules' = 'live'
         and sample is null and lens_id = (select min(id) from lens where site_id = :siteId and removed_at is null)
       group by sweep.id order by started_at desc limit 12`,
      { replacements: { siteId, slug }, type: QueryTypes.SELECT },
    )
    return rows
      .reverse()
      .map(({ entry, ...row }) => ({ ...row, version: entry?.version ?? null, active: entry?.active ?? null }))
  }
}
