import type { Browser } from 'playwright-core'
import type { Reading } from '@unvelt/core'
import { readyPage } from '../browser/read-page.js'
import type { ReadingOrder } from '../browser/reading-order.js'
import { ReadingFailure } from '../reading/failure.js'
import type { WorkerTools } from './worker-tools.js'

/** So often a page is read by itself that may be the one that ends browsers. */
const MOST_ALONE = 2

/**
 * Reads a page in the browser that it shares with others. When that goes away, any of its pages may have been the reason, or
 * somebody who killed it: each is read anew in a browser of its own, so that what ends that one is known, and none of its
 * neighbours loses anything by it.
 */
export async function readInLivingBrowser(tools: WorkerTools, order: ReadingOrder, timed: boolean): Promise<Reading> {
  const shared = await tools.browsers.shared()
  try {
    return await readOnce(tools, shared, order, timed)
  } catch (error) {
    if (shared.isConnected() || tools.stopping()) throw error
  }
  for (let attempt = 1; attempt <= MOST_ALONE; attempt++) {
    const outcome = await tools.browsers.own(async (browser) => {
      try {
        return await readOnce(tools, browser, order, timed)
      } catch (error) {
        if (browser.isConnected() || tools.stopping()) throw error
        return null
      }
    })
    if (outcome) return outcome
  }
  throw new ReadingFailure(`The page ended the measuring browser, ${MOST_ALONE + 1} times.`)
}

async function readOnce(
  { turns }: WorkerTools,
  browser: Browser,
  order: ReadingOrder,
  timed: boolean,
): Promise<Reading> {
  // A page is opened beside others, and only its load has the machine to itself.
  if (!timed) return turns.gathered(async () => (await readyPage(browser, order)).read())
  const ready = await turns.beside(() => readyPage(browser, order))
  return turns.alone(() => ready.read())
}
