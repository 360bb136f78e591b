import { Injectable } from '@nestjs/common'
import { attributeWithSteps, HAR_CREATOR, toHar, withSteps } from '@unvelt/core'
import { PageRow } from '../page/page.model.js'
import { ReadingRow } from '../reading/reading.model.js'
import { readDetail } from '../reading/reading-store.js'
import type { SweepRow } from '../sweep/sweep.model.js'

/** Writes readings as a HAR 1.2 file, one at a time, so that a sweep of any size can be had. */
@Injectable()
export class HarExportService {
  async *write(sweep: SweepRow, pageId?: number): AsyncGenerator<string> {
    const rows = await ReadingRow.findAll({
      where: { sweepId: sweep.id, failure: null, ...(pageId !== undefined && { pageId }) },
      attributes: ['id', 'pageId', 'variant', 'repeat', 'readAt'],
      order: ['pageId', 'variant', 'repeat'],
    })
    const paths = new Map((await PageRow.findAll({ where: { siteId: sweep.siteId } })).map((p) => [p.id, p.path]))
    const pages: string[] = []
    yield `{"log":{"version":"1.2","creator":${JSON.stringify(HAR_CREATOR)},"entries":[`
    let first = true
    for (const { id, pageId: of, variant, repeat, readAt } of rows) {
      const reading = await readDetail((await ReadingRow.findByPk(id))!)
      const attribution = attributeWithSteps(reading, sweep.sources)
      const whole = withSteps(reading)
      const { page, entries } = toHar(whole, `${paths.get(of)} ${variant} ${repeat}`, readAt, attribution)
      pages.push(JSON.stringify(page))
      for (const entry of entries) {
        yield (first ? '\n' : ',\n') + JSON.stringify(entry)
        first = false
      }
    }
    yield `],"pages":[\n${pages.join(',\n')}]}}\n`
  }
}
