import { wentOut, type Reading } from '@unvelt/core'
import { FIRST_LENSES } from '../lens/lens-settings.js'
import { LensRow } from '../lens/lens.model.js'
import { PageRow } from '../page/page.model.js'
import type { WithoutJob } from '../queue/queue.js'
import { reachOf } from '../reach/reach.js'
import { open } from '../site/secret-box.js'
import { SiteRow } from '../site/site.model.js'
import { WithoutRow, type WithoutFigures } from '../without/without.model.js'
import { wasBlocked } from '../browser/blocked.js'
import { failureSentence } from '../reading/failure.js'
import { measuringHeader } from '../site-http/measuring-header.js'
import type { WorkerTools } from './page-job.js'
import { readyPage } from '../browser/read-page.js'
import type { ReadingOrder } from '../browser/reading-order.js'

/**
 * Reads a page with and without some outsiders in turn, past the site's caches and through its first signed-out lens. What was
 * read before the job was broken off stays.
 */
export async function runWithoutJob(tools: WorkerTools, { id }: WithoutJob): Promise<void> {
  const row = await WithoutRow.findByPk(id)
  if (!row || row.state === 'done') return
  const page = (await PageRow.findByPk(row.pageId))!
  const site = (await SiteRow.findByPk(page.siteId))!
  const lenses = await LensRow.findAll({ where: { siteId: site.id }, order: ['id'] })
  const { settings } = lenses.find((lens) => lens.settings.visitor.kind === 'signed-out') ?? FIRST_LENSES[0]!
  const key = site.connectorKey === null ? null : open(site.connectorKey, tools.secret)
  const url = new URL(page.path, site.address)
  const sides = row.sides
  let failure: string | null = null
  try {
    while (sides.without.length < row.repeats) {
      const side = sides.with.length > sides.without.length ? 'without' : 'with'
      const order: ReadingOrder = {
        url: url.href,
        lens: settings,
        reach: reachOf(site),
        // Only what it costs is compared, and looking at more would slow the page.
        clean: true,
        ...(key && {
          measuringHeader: () => measuringHeader(url, key, { rules: 'live', cache: 'bypass' }, Date.now() / 1000),
        }),
        ...(side === 'without' && {
          blocked: row.payers.length === 0 ? { allBut: site.ownHosts } : { hosts: row.hosts },
        }),
      }
      const ready = await tools.turns.beside(async () => readyPage(await tools.browser(), order))
      const reading = await tools.turns.alone(() => ready.read())
      sides[side].push(figuresOf(reading))
      await row.update({ sides: { ...sides } })
      row.changed('sides', true)
      await row.save()
    }
  } catch (error) {
    if (tools.stopping()) throw error
    failure = failureSentence(error)
  }
  await row.update({ failure, state: 'done', takenAt: new Date() })
}

function figuresOf({ requests, timings, mainThread, consoleErrors }: Reading): WithoutFigures {
  const out = requests.filter((request) => wentOut(request) && !wasBlocked(request))
  const sum = (of: (request: Reading['requests'][number]) => number) => out.reduce((total, r) => total + of(r), 0)
  return {
    requests: out.length,
    transferBytes: sum((r) => r.transferBytes),
    decodedBytes: sum((r) => r.decodedBytes),
    mainThreadMs: mainThread.reduce((total, { ms }) => total + ms, 0),
    loadMs: timings.load,
    largestPaintMs: timings.largestContentfulPaint,
    blockingMs: timings.totalBlockingTime,
    // That a file was refused is what was asked for, and no complaint.
    complaints: consoleErrors.filter((text) => !text.includes('ERR_BLOCKED_BY_CLIENT')),
  }
}
