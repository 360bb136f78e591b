import type { ServerReading } from '@unvelt/core'
import { PageRow } from '../page/page.model.js'
import type { ServerReadingJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { ServerReadingRow } from '../server-reading/server-reading.model.js'
import { open } from '../site/secret-box.js'
import { whyUnreachable } from '../site-http/site-fetch.js'
import { SiteRow } from '../site/site.model.js'
import { askServer } from '../site-http/ask-server.js'
import type { WorkerTools } from './page-job.js'

/**
 * Asks for a page past the caches and with them in turn, so that what drifts meanwhile drifts for both. The first answer
 * of all only opens the connection and is not kept.
 */
export async function runServerReadingJob(
  { secret, turns }: Pick<WorkerTools, 'secret' | 'turns'>,
  { id }: ServerReadingJob,
): Promise<void> {
  const row = await ServerReadingRow.findByPk(id)
  if (!row || row.state === 'done') return
  const page = (await PageRow.findByPk(row.pageId))!
  const site = (await SiteRow.findByPk(page.siteId))!
  const url = new URL(page.path, site.address)
  const question = {
    url,
    key: site.connectorKey === null ? null : open(site.connectorKey, secret),
    reach: reachOf(site),
    siteId: site.id,
  }
  const readings: ServerReading[] = []
  let failure: string | null = null
  try {
    await turns.beside(() => askServer({ ...question, cache: 'serve' }))
    for (let n = 0; n < row.wanted; n++)
      for (const cache of ['bypass', 'serve'] as const) {
        const { traceId: _, ...reading } = await turns.alone(() => askServer({ ...question, cache }))
        readings.push(reading)
        await row.update({ readings: [...readings] })
      }
  } catch (error) {
    failure = whyUnreachable(error, url.host)
  }
  await row.update({ readings, failure, state: 'done', takenAt: new Date() })
}
