import type { Page } from 'playwright-core'

/** Where a page says what has come of something, the surest first. */
const PLACES = ['[role=status]', '[role=alert]', 'output', 'h1', 'h2', 'main p', 'p']
const LONGEST = 100
const MOST = 60

/** Short texts that can be seen, as `selector: text`. */
export async function shortTexts(page: Page): Promise<string[]> {
  const asked: unknown = await page.evaluate(askTexts, { places: PLACES, longest: LONGEST, most: MOST })
  return Array.isArray(asked)
    ? asked.filter((text): text is string => typeof text === 'string' && text.length <= 2 * LONGEST).slice(0, MOST)
    : []
}

/** Runs in the page. */
function askTexts({ places, longest, most }: { places: string[]; longest: number; most: number }): string[] {
  const texts: string[] = []
  for (const at of places)
    for (const element of [...document.querySelectorAll(at)].slice(0, most)) {
      const { width, height } = element.getBoundingClientRect()
      const text = (element.textContent ?? '').replace(/\s+/g, ' ').trim()
      if (width > 1 && height > 1 && text !== '' && text.length <= longest) texts.push(`${at}: ${text}`)
    }
  return texts
}
