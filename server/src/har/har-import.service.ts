import { Inject, Injectable } from '@nestjs/common'
import { Sequelize, type Transaction } from 'sequelize'
import { HarProblem, HarReader, JsonProblem, type Reading } from '@unvelt/core'
import type { HarImport } from '@unvelt/contract'
import { tellSweep } from '../events/tell.js'
import { PageRow } from '../page/page.model.js'
import { patternsOf } from '../pattern/pattern.model.js'
import { ProblemError } from '../problem/problem.error.js'
import { storeReading, storeTolls } from '../reading/reading-store.js'
import type { SiteRow } from '../site/site.model.js'
import { attributionSources, evidentAddOns } from '../sweep/sources.js'
import { SweepRow } from '../sweep/sweep.model.js'

export const MOST_BYTES = 600e6

interface Matched {
  page: PageRow
  readings: Reading[]
}

/** Takes readings that somebody else made, as HAR files, in as a sweep of their own. */
@Injectable()
export class HarImportService {
  constructor(@Inject(Sequelize) private readonly sequelize: Sequelize) {}

  /** All or nothing: a file with one entry that can't be read is refused whole. */
  async take(site: SiteRow, file: AsyncIterable<Uint8Array>): Promise<HarImport> {
    const readings = await readFile(file)
    const { matched, strange } = await this.match(site, readings)
    if (matched.length === 0)
      throw new ProblemError(422, `None of the file’s pages is a page of ${site.name}. The first is ${strange[0]}.`)
    const addOns = await evidentAddOns(site.id)
    const sources = attributionSources(site, addOns, await patternsOf(site.id))
    const sweep = await this.sequelize.transaction((transaction) => this.newSweep(site, matched, sources, transaction))
    for (const { page, readings: repeats } of matched) {
      const place = { sweepId: sweep.id, pageId: page.id, variant: 'live' }
      for (const [n, reading] of repeats.entries()) await storeReading({ ...place, repeat: n + 1 }, reading, sources)
      await storeTolls(this.sequelize, site.id, place, sources)
    }
    await sweep.update({ status: 'done', finishedAt: new Date() })
    await tellSweep(this.sequelize, { siteId: site.id, sweepId: sweep.id })
    return {
      sweepId: sweep.id,
      pages: matched.length,
      requests: matched.flatMap(({ readings: all }) => all).reduce((sum, { requests }) => sum + requests.length, 0),
      strange,
    }
  }

  /** Which page each reading is of; several of one page are its repeats. */
  private async match(site: SiteRow, readings: Reading[]): Promise<{ matched: Matched[]; strange: string[] }> {
    const pages = await PageRow.findAll({ where: { siteId: site.id } })
    const byPath = new Map(pages.map((page) => [page.path, page]))
    const matched = new Map<number, Matched>()
    const strange: string[] = []
    for (const reading of readings) {
      const { host, pathname, search } = new URL(reading.url)
      const own = site.ownHosts.includes(host)
      const page = own ? (byPath.get(pathname + search) ?? byPath.get(pathname)) : undefined
      if (!page) strange.push(reading.url)
      else if (matched.has(page.id)) matched.get(page.id)!.readings.push(reading)
      else matched.set(page.id, { page, readings: [reading] })
    }
    return { matched: [...matched.values()], strange }
  }

  private async newSweep(
    site: SiteRow,
    matched: Matched[],
    sources: SweepRow['sources'],
    transaction: Transaction,
  ): Promise<SweepRow> {
    const sweep = await SweepRow.create(
      {
        siteId: site.id,
        lensId: null,
        purpose: 'import',
        // Nobody is to take it for a sweep under way, and nobody for one that is complete.
        status: 'cancelled',
        repeats: Math.max(...matched.map(({ readings }) => readings.length)),
        variants: [{ name: 'live', rules: 'live' }],
        sources,
        finishedAt: new Date(),
      },
      { transaction },
    )
    await this.sequelize.query(
      `insert into sweep_page (sweep_id, page_id, state) select :sweep, unnest(array[:pages]::int[]), 'done'`,
      { replacements: { sweep: sweep.id, pages: matched.map(({ page }) => page.id) }, transaction },
    )
    return sweep
  }
}

async function readFile(file: AsyncIterable<Uint8Array>): Promise<Reading[]> {
  const reader = new HarReader()
  let size = 0
  try {
    for await (const chunk of file) {
      size += chunk.length
      if (size > MOST_BYTES) throw new ProblemError(413, `The file is larger than ${MOST_BYTES / 1e6} MB.`)
      reader.push(chunk)
    }
    return reader.end()
  } catch (error) {
    if (error instanceof HarProblem) throw new ProblemError(422, `The HAR file can’t be read at ${error.message}`)
    if (error instanceof JsonProblem)
      throw new ProblemError(422, `The file is not JSON. ${error.message}, at byte ${error.offset}.`)
    throw error
  }
}
