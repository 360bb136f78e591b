import type { Browser } from 'playwright-core'
import type { Job } from '../queue/job.js'
import { PRINT, type PrintJob } from '../queue/queue.js'
import type { WorkerTools } from '../worker/worker-tools.js'
import { PaperRow } from './paper.model.js'

const LONGEST_MS = 60_000

export const printJob = (tools: WorkerTools): Job<PrintJob> => ({
  name: PRINT,
  atATime: 1,
  keyOf: ({ id }) => String(id),
  async run({ id }, hold) {
    const row = await PaperRow.findByPk(id)
    if (row?.state !== 'printing') return
    const pdf = await tools.turns.beside(async () => printed(await tools.browsers.shared(), row.html))
    hold.check()
    await row.update({ pdf, state: 'done', html: '' })
  },
  giveUp: ({ id }, why) => failed(id, why),
  standStill: ({ id }, why) => failed(id, why),
  unfinished: async () =>
    (await PaperRow.findAll({ where: { state: 'printing' }, attributes: ['id'], order: ['id'] })).map(({ id }) => ({
      data: { id },
    })),
})

/** The document as PDF. It runs no scripts and reaches nobody: all that it shows is in it. */
export async function printed(browser: Browser, html: string): Promise<Buffer> {
  const context = await browser.newContext({ javaScriptEnabled: false, offline: true, serviceWorkers: 'block' })
  try {
    await context.route('**/*', (route) => route.abort())
    const page = await context.newPage()
    page.setDefaultTimeout(LONGEST_MS)
    await page.setContent(html, { waitUntil: 'load' })
    return await page.pdf({ format: 'A4', printBackground: true, preferCSSPageSize: true, tagged: true, outline: true })
  } finally {
    await context.close()
  }
}

async function failed(id: number, why: string): Promise<void> {
  await PaperRow.update({ state: 'failed', why, html: '' }, { where: { id, state: 'printing' } })
}
