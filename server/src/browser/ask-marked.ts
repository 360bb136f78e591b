import type { Browser } from 'playwright-core'
import type { ElementWriter } from '@unvelt/core'
import type { ReadingOrder } from './reading-order.js'
import { agentOf } from './look-through.js'
import { MEASURING_HEADER, measuringHeader, type MeasuringWish } from '../site-http/measuring-header.js'
import { parseApart } from '../parse/parse-apart.js'
import { boundedText, siteFetch } from '../site-http/site-fetch.js'

const MOST_BYTES = 20e6

/**
 * Which elements of a page each add-on wrote on the server, by the site's own marks. The page is asked for once more for
 * that, without a browser, so that a reading never has a mark in it. Null where the site gives no such answer.
 */
export async function askMarked(
  browser: Browser,
  { url, cookie, lens, reach }: ReadingOrder,
  key: string,
  rules: MeasuringWish['rules'],
): Promise<ElementWriter[] | null> {
  const page = new URL(url)
  const agent = agentOf(browser, lens)
  const wish = { rules, cache: 'bypass', marks: true } as const
  const headers = {
    accept: 'text/html,*/*;q=0.8',
    [MEASURING_HEADER]: measuringHeader(page, key, wish, Date.now() / 1000),
    ...(agent !== undefined && { 'user-agent': agent }),
    ...(cookie && { cookie }),
  }
  try {
    const response = await siteFetch(page, { reach, headers })
    const html = await boundedText(response, MOST_BYTES)
    if (response.status !== 200) return null
    const marks = await parseApart('marks', html)
    return marks?.map(([addon, elements]) => ({ addon, elements })) ?? null
  } catch {
    // No reading fails for want of it.
    return null
  }
}
