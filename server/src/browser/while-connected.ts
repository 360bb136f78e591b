import type { Browser } from 'playwright-core'
import { ReadingFailure } from '../reading/failure.js'

/**
 * Waits for something as long as its browser is there. A question that was under way when the browser was killed may never
 * be answered, not even by an error.
 */
export async function whileConnected<T>(browser: Browser, work: Promise<T>): Promise<T> {
  let fail = () => {}
  const gone = new Promise<never>((_, reject) => {
    fail = () => reject(new ReadingFailure('The measuring browser went away in the middle of the reading.'))
    browser.once('disconnected', fail)
    if (!browser.isConnected()) fail()
  })
  try {
    return await Promise.race([work, gone])
  } finally {
    browser.off('disconnected', fail)
    // Whoever ends second is nobody's failure.
    gone.catch(() => {})
    work.catch(() => {})
  }
}
