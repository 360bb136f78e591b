import { QueryTypes, type Sequelize } from 'sequelize'
import type { PageRow } from '../page/page.model.js'
import { reachOf } from '../reach/reach.js'
import { ReadingFailure } from '../reading/failure.js'
import { ConnectorClient, ConnectorError } from '../site-http/connector-client.js'
import type { SiteRow } from '../site/site.model.js'
import type { SweepRow } from '../sweep/sweep.model.js'

interface Subject {
  sweep: SweepRow
  site: SiteRow
  page: PageRow
  key: string | null
}

/**
 * The copy that the site keeps of a page for one sweep alone. Its path is written down, so that what a killed worker left
 * behind goes before the next is made.
 */
export class PageCopy {
  private made: Promise<string> | null = null

  constructor(
    private readonly sequelize: Sequelize,
    private readonly subject: Subject,
  ) {}

  /** @throws ReadingFailure where the site makes none. */
  path(): Promise<string> {
    this.made ??= this.make()
    this.made.catch(() => (this.made = null))
    return this.made
  }

  /** The site knows it no more, since it was started anew. */
  lost(): void {
    this.made = null
  }

  async remove(): Promise<void> {
    if (!this.subject.sweep.onCopies) return
    this.made = null
    await this.removeWritten()
  }

  private async removeWritten(): Promise<void> {
    const path = await this.written()
    if (path === null) return
    // One that is gone by itself is as good.
    await this.connector.removeScratch(path).catch(() => {})
    await this.write(null)
  }

  private async make(): Promise<string> {
    await this.removeWritten()
    try {
      const { path } = await this.connector.makeScratch(this.subject.page.path)
      await this.write(path)
      return path
    } catch (error) {
      if (error instanceof ConnectorError)
        throw new ReadingFailure(`The site made no copy of the page: ${error.message}`)
      throw error
    }
  }

  private get connector(): ConnectorClient {
    const { site, key } = this.subject
    return new ConnectorClient(site.address, site.connector!.base, key ?? '', reachOf(site))
  }

  private async written(): Promise<string | null> {
    const [row] = await this.sequelize.query<{ copy_path: string | null }>(
      'select copy_path from sweep_page where sweep_id = :sweep and page_id = :page',
      { replacements: this.place, type: QueryTypes.SELECT },
    )
    return row?.copy_path ?? null
  }

  private async write(path: string | null): Promise<void> {
    await this.sequelize.query('update sweep_page set copy_path = :path where sweep_id = :sweep and page_id = :page', {
      replacements: { ...this.place, path },
    })
  }

  private get place() {
    return { sweep: this.subject.sweep.id, page: this.subject.page.id }
  }
}
