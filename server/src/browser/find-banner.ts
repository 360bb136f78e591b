import type { Page } from 'playwright-core'
import { consentBannerIn, refusalIn, type BannerCandidate, type ConsentBanner } from '@unvelt/core'

/** By what the page asks for consent at the moment; null where nothing of the kind is to be seen. */
export async function findBanner(page: Page): Promise<ConsentBanner | null> {
  return consentBannerIn(await page.evaluate(liesOver, LIMITS))
}

const OPENS_MS = 4_000
const LOOK_AGAIN_MS = 250

/**
 * The same, and where nothing on it refuses, what does once more of it was opened. Presses, so that nothing of the page is a figure any
 * more.
 */
export async function findAnswers(page: Page): Promise<ConsentBanner | null> {
  const banner = await findBanner(page)
  if (!banner || banner.refuse || !banner.more) return banner
  const { more } = banner
  try {
    await page.locator(`css=${more.selector}`).first().click({ timeout: OPENS_MS })
    for (const until = Date.now() + OPENS_MS; Date.now() < until; await page.waitForTimeout(LOOK_AGAIN_MS)) {
      const refuse = refusalIn(await page.evaluate(liesOver, LIMITS))
      if (refuse) return { ...banner, refuse: { ...refuse, first: { selector: more.selector, name: more.name } } }
    }
  } catch {
    // It led away, or can't be pressed: then it is no way to refuse.
  }
  return banner
}

const LIMITS = { candidates: 40, controls: 40, text: 2_000, name: 120 }

/** Runs in the page: what is fixed over it or a dialog, and what there is to press in it. What it says is the page's own word. */
function liesOver(limits: typeof LIMITS): BannerCandidate[] {
  const isSeen = (element: Element) => {
    const { width, height } = element.getBoundingClientRect()
    const { visibility, display, opacity } = getComputedStyle(element)
    return width > 8 && height > 8 && visibility === 'visible' && display !== 'none' && Number(opacity) > 0.05
  }
  const text = (of: string, most: number) => of.replace(/\s+/g, ' ').trim().slice(0, most)
  const selectorOf = (element: Element): string => {
    const steps: string[] = []
    for (let at: Element | null = element; at && at !== document.documentElement; at = at.parentElement) {
      if (at.id && document.querySelectorAll(`#${CSS.escape(at.id)}`).length === 1)
        return [`#${CSS.escape(at.id)}`, ...steps].join(' > ')
      const same = [...(at.parentElement?.children ?? [])].filter(({ tagName }) => tagName === at!.tagName)
      steps.unshift(`${at.tagName.toLowerCase()}:nth-of-type(${same.indexOf(at) + 1})`)
    }
    return ['html', ...steps].join(' > ')
  }
  const nameOf = (control: Element) =>
    control.getAttribute('aria-label') ??
    ((control as HTMLInputElement).value || (control as HTMLElement).innerText || control.getAttribute('title') || '')
  const found: BannerCandidate[] = []
  for (const element of document.querySelectorAll<HTMLElement>('body *')) {
    if (found.length >= limits.candidates) break
    const role = element.getAttribute('role')
    const isDialog = role === 'dialog' || role === 'alertdialog' || element.matches('dialog[open], [aria-modal="true"]')
    if (!isDialog && !['fixed', 'sticky'].includes(getComputedStyle(element).position)) continue
    if (!isSeen(element)) continue
    const controls = [...element.querySelectorAll('button, [role=button], input[type=button], input[type=submit], a')]
      .filter(isSeen)
      .slice(0, limits.controls)
      .map((control) => ({
        selector: selectorOf(control),
        name: text(nameOf(control), limits.name),
        leadsAway: control.matches('a[href]') && !/^(#|javascript:|$)/.test(control.getAttribute('href')!),
      }))
    if (controls.length === 0) continue
    found.push({ selector: selectorOf(element), text: text(element.innerText ?? '', limits.text), controls })
  }
  return found
}
