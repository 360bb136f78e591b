import { Inject, Injectable } from '@nestjs/common'
import { QueryTypes, Sequelize } from 'sequelize'
import type { UseWordInput } from '@unvelt/contract'
import { AddOnRow } from '../add-on/add-on.model.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import type { SweepRow } from '../sweep/sweep.model.js'
import { atLine, csvRecords } from './csv-records.js'
import { KnownFacts } from './known-facts.js'
import { UseWords, type Looked } from './use-words.js'

/** What is known of the use of add-ons: put together from all that tells of it, and added to by hand. */
@Injectable()
export class UseService {
  private readonly facts: KnownFacts

  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {
    this.facts = new KnownFacts(sequelize)
  }

  async words(siteId: number, sweep: SweepRow | null, addOns?: AddOnRow[]): Promise<UseWords> {
    return new UseWords(
      addOns ?? (await AddOnRow.findAll({ where: { siteId } })),
      await this.facts.of(siteId, sweep?.id ?? null),
      sweep ? await this.looked(sweep) : { read: new Set(), steps: new Set() },
      await this.touches(siteId),
    )
  }

  touches(siteId: number): Promise<{ slug: string; pageId: number; touches: number }[]> {
    return this.sequelize.query(`select slug, page_id "pageId", touches from touch where site_id = :siteId`, {
      replacements: { siteId },
      type: QueryTypes.SELECT,
    })
  }

  /** Pages read, and those where steps followed: public ones of a survey by somebody who is not signed in. */
  private async looked(sweep: SweepRow): Promise<Looked> {
    const lens = sweep.lensId === null ? null : await LensRow.findByPk(sweep.lensId)
    const takesSteps = sweep.purpose === 'survey' && lens?.settings.visitor.kind === 'signed-out'
    const rows = await this.sequelize.query<{ id: number; area: string }>(
      `select page.id, page.area from sweep_page join page on page.id = page_id
       where sweep_id = :sweepId and state = 'done'`,
      { replacements: { sweepId: sweep.id }, type: QueryTypes.SELECT },
    )
    return {
      read: new Set(rows.map(({ id }) => id)),
      steps: new Set(takesSteps ? rows.filter(({ area }) => area === 'public').map(({ id }) => id) : []),
    }
  }

  /** The maintainer's own word, for some pages or for all; none takes it back. */
  async say(siteId: number, slug: string, { pageIds, word, because, who }: UseWordInput): Promise<void> {
    if (pageIds) {
      const known = await PageRow.count({ where: { siteId, id: pageIds } })
      if (known !== new Set(pageIds).size) throw new ProblemError(422, 'Some of these pages are not the site’s.')
    }
    await this.sequelize.transaction(async (transaction) => {
      const pages = pageIds ? [...new Set(pageIds)] : null
      await this.sequelize.query(
        `delete from use_fact where site_id = $1 and slug = $2 and source = 'hand'
         and ($3::int[] is null and page_id is null or page_id = any($3::int[]))`,
        { bind: [siteId, slug, pages], transaction },
      )
      if (!word) return
      await this.sequelize.query(
        `insert into use_fact (site_id, slug, page_id, source, word, because, who)
         select $1, $2, page_id, 'hand', $4, $5, $6 from unnest($3::int[]) page_id`,
        {
          bind: [siteId, slug, pages ?? [null], word, because || 'said by hand', who || null],
          transaction,
        },
      )
    })
  }

  /**
   * Takes in a table of how often visitors touched what: columns `page`, `addon` and `touches`. All of it or nothing.
   * @returns how many lines were taken
   */
  async importTouches(siteId: number, text: string): Promise<number> {
    const lines = csvRecords(text, ['page', 'addon', 'touches'])
    const pages = new Map((await PageRow.findAll({ where: { siteId } })).map(({ path, id }) => [path, id]))
    const slugs = new Set((await AddOnRow.findAll({ where: { siteId } })).map(({ slug }) => slug))
    const rows = lines.map(({ record: { page, addon, touches }, line }) => {
      const pageId = pages.get(page!)
      if (pageId === undefined) throw atLine(line, 'page', 'the path of a page of this site')
      if (!slugs.has(addon!)) throw atLine(line, 'addon', 'the slug of an add-on of this site')
      if (!/^\d{1,9}$/.test(touches!)) throw atLine(line, 'touches', 'a whole number')
      return { pageId, addon: addon!, touches: Number(touches) }
    })
    await this.sequelize.query(
      `insert into touch (site_id, slug, page_id, touches)
       select $1, slug, page_id, least(sum(touches), 2147483647) from unnest($2::text[], $3::int[], $4::int[]) told (slug, page_id, touches)
       group by slug, page_id
       on conflict (site_id, slug, page_id) do update set touches = excluded.touches`,
      { bind: [siteId, rows.map((r) => r.addon), rows.map((r) => r.pageId), rows.map((r) => r.touches)] },
    )
    return rows.length
  }
}
