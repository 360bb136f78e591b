import { randomUUID } from 'node:crypto'
import type { Database } from '../cms/database.js'
import { Refusal } from '../cms/refusal.js'
import type { Trace } from '../cms/trace.js'
import { listedPages, PAGES } from './pages.js'
import type { SitePage } from './site-page.js'

const MOST_SCRATCH_PAGES = 50

/** Every page there is: those that ship, with the editors' changes, and the scratch pages of a trial. */
export class PageBook {
  private readonly pages = new Map<string, SitePage>(PAGES.map((page) => [page.path, page]))
  private readonly scratch = new Map<string, SitePage>()

  constructor(private readonly database: Database) {}

  async setUp(): Promise<void> {
    await this.database.query(
      'create table if not exists loam_edits (path text primary key, title text not null, lead text not null, edited_at timestamptz not null default now())',
    )
    await this.database.query(`alter table loam_edits add column if not exists dropped text[] not null default '{}'`)
    await this.database.query(
      'create table if not exists loam_cleared_blocks (path text not null, block text not null, owner text not null, primary key (path, block))',
    )
    await this.reload()
  }

  async reload(): Promise<void> {
    for (const page of PAGES) this.pages.set(page.path, page)
    const edits = await this.database.query<{
      path: string
      title: string
      lead: string
      dropped: string[]
      edited_at: Date
    }>('select * from loam_edits')
    for (const { path, title, lead, dropped, edited_at } of edits) {
      const page = this.pages.get(path)
      if (!page) continue
      const body = dropped.reduce((text, block) => text.replaceAll(block, ''), page.body)
      this.pages.set(path, { ...page, title, lead, body, modified: edited_at.toISOString().slice(0, 10) })
    }
    const cleared = await this.database.query<{ path: string; block: string }>(
      'select path, block from loam_cleared_blocks',
    )
    for (const { path, block } of cleared) {
      const page = this.pages.get(path)
      if (page) this.pages.set(path, { ...page, body: page.body.replaceAll(block, '') })
    }
  }

  find(path: string): SitePage | undefined {
    return this.pages.get(path) ?? this.scratch.get(path)
  }

  /** As the CMS lists them. */
  listed(): SitePage[] {
    return listedPages().map((page) => this.pages.get(page.path)!)
  }

  all(): SitePage[] {
    return [...this.pages.values()]
  }

  /**
   * Writes an editor's words down, and goes on showing the old ones.
   * @param dropped Blocks that are taken out, as they are written in the content; what was taken out before stays out.
   */
  async write(
    { path, title, lead, dropped }: { path: string; title: string; lead: string; dropped: readonly string[] },
    database: Database,
    trace?: Trace,
  ): Promise<void> {
    if (!this.pages.has(path)) throw new Refusal(404, `There is no page ${path}.`)
    await database.query(
      `insert into loam_edits (path, title, lead, dropped) values ($1, $2, $3, $4)
       on conflict (path) do update set title = excluded.title, lead = excluded.lead, edited_at = now(),
       dropped = array(select distinct block from unnest(loam_edits.dropped || excluded.dropped) block)`,
      [path, title, lead, dropped],
      trace,
    )
  }

  /** A copy of a page at an address that nobody knows, to try things on. */
  makeScratch(like: string): SitePage {
    const model = this.pages.get(like)
    if (!model) throw new Refusal(404, `There is no page ${JSON.stringify(like)} to copy.`)
    if (model.roles) throw new Refusal(422, 'A page for signed-in people can’t be copied to an open address.')
    if (this.scratch.size >= MOST_SCRATCH_PAGES)
      throw new Refusal(409, `There are ${MOST_SCRATCH_PAGES} scratch pages already; remove one first.`)
    const page: SitePage = { ...model, path: `/scratch/${randomUUID()}`, unlisted: true }
    this.scratch.set(page.path, page)
    return page
  }

  removeScratch(path: string): boolean {
    return this.scratch.delete(path)
  }
}
