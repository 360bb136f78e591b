import { Inject, Injectable } from '@nestjs/common'
import { parse } from 'csv-parse'
import { isbot } from 'isbot'
import { createInterface } from 'node:readline'
import { Readable } from 'node:stream'
import { QueryTypes, Sequelize } from 'sequelize'
import { ViewCounter } from '@unvelt/core'
import type { PageViewImport } from '@unvelt/contract'
import { PageRow } from '../page/page.model.js'
import { ProblemError } from '../problem/problem.error.js'
import type { SiteRow } from '../site/site.model.js'

const LONGEST_LINE = 20_000
/** PostgreSQL's largest integer: pages that are seen more often than that are seen that often. */
const MOST_VIEWS = 2 ** 31 - 1
const MOST_STRANGE = 20
/** The same few names come again and again. */
const MOST_KNOWN_AGENTS = 5_000

/** Takes page views in, from the site's own log or from a table, as they stream by. */
@Injectable()
export class PageViewService {
  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  /** A log in combined log format. Lines that can't be read are counted and shown, and the rest is taken. */
  async takeLog(site: SiteRow, body: AsyncIterable<Uint8Array>): Promise<PageViewImport> {
    const known = await this.pathsOf(site.id)
    const counter = new ViewCounter((path) => known.has(path), rememberedBot())
    for await (const line of createInterface({
      input: Readable.from(body, { objectMode: false }),
      crlfDelay: Infinity,
    }))
      counter.take(line.length > LONGEST_LINE ? line.slice(0, LONGEST_LINE) : line)
    if (counter.lines === 0) throw new ProblemError(422, 'The log is empty.')
    if (counter.bad === counter.lines)
      throw new ProblemError(
        422,
        `Line 1 is not in combined log format: “${counter.badLines[0]!.text.slice(0, 80)}”. Nothing was taken.`,
      )
    const { lines, views, bots, passedOver, bad, badLines, byPath } = counter
    return { lines, views, bots, passedOver, bad, badLines, pages: await this.store(site.id, byPath), strange: [] }
  }

  /** A table with the columns `path` and `views`, in any order, more columns beside them. All or nothing. */
  async takeTable(site: SiteRow, body: AsyncIterable<Uint8Array>): Promise<PageViewImport> {
    const known = await this.pathsOf(site.id)
    const byPath = new Map<string, number>()
    const strange: string[] = []
    let lines = 0
    const rows = Readable.from(body, { objectMode: false }).pipe(
      parse({
        bom: true,
        columns: headings,
        skip_empty_lines: true,
        max_record_size: LONGEST_LINE,
        info: true,
        trim: true,
      }),
    )
    try {
      for await (const { record, info } of rows as AsyncIterable<{
        record: Record<string, string>
        info: { lines: number }
      }>) {
        lines++
        const { path = '', views = '' } = record
        if (!/^\d{1,9}$/.test(views))
          throw new ProblemError(
            422,
            `Line ${info.lines}, column views: expected a whole number of at most nine digits, got “${views.slice(0, 40)}”. Nothing was taken.`,
          )
        if (known.has(path)) byPath.set(path, (byPath.get(path) ?? 0) + Number(views))
        else if (strange.length < MOST_STRANGE) strange.push(path.slice(0, 200))
      }
    } catch (error) {
      if (error instanceof ProblemError) throw error
      throw new ProblemError(422, `The table can’t be read. ${(error as Error).message.slice(0, 200)}`)
    }
    if (byPath.size === 0) throw new ProblemError(422, 'The table names no page of the site. Nothing was taken.')
    const views = [...byPath.values()].reduce((sum, n) => sum + n, 0)
    const pages = await this.store(site.id, byPath)
    return { lines, views, bots: 0, passedOver: 0, bad: 0, badLines: [], pages, strange }
  }

  private async pathsOf(siteId: number): Promise<Set<string>> {
    return new Set((await PageRow.findAll({ where: { siteId }, attributes: ['path'] })).map(({ path }) => path))
  }

  /** What was imported stands against what the site itself counts. A page that nobody saw has none, which is known too. */
  private async store(siteId: number, byPath: ReadonlyMap<string, number>): Promise<number> {
    const rows = await this.sequelize.query(
      `update page set imported_views = coalesce(given.views, 0)
       from page self left join unnest($2::text[], $3::int[]) given (path, views) on given.path = self.path
       where page.id = self.id and page.site_id = $1 returning page.id`,
      {
        bind: [siteId, [...byPath.keys()], [...byPath.values()].map((views) => Math.min(views, MOST_VIEWS))],
        type: QueryTypes.SELECT,
      },
    )
    return rows.length > 0 ? byPath.size : 0
  }
}

function rememberedBot(): (userAgent: string) => boolean {
  const known = new Map<string, boolean>()
  return (userAgent) => {
    const found = known.get(userAgent)
    if (found !== undefined) return found
    const bot = isbot(userAgent)
    if (known.size < MOST_KNOWN_AGENTS) known.set(userAgent, bot)
    return bot
  }
}

function headings(found: string[]): string[] {
  const names = found.map((name) => name.trim().toLowerCase())
  for (const needed of ['path', 'views'])
    if (!names.includes(needed))
      throw new Error(`Line 1: expected the columns path and views, got ${found.join(', ').slice(0, 100)}.`)
  return names
}
