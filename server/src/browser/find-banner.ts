import type { Frame, Page } from 'playwright-core'
import { consentBannerIn, refusalIn, type BannerCandidate, type ConsentBanner } from '@unvelt/core'
import { controlOn, INTO_FRAME } from './control-on-page.js'

/** By what the page asks for consent at the moment; null where nothing of the kind is to be seen. */
export async function findBanner(page: Page): Promise<ConsentBanner | null> {
  return consentBannerIn(await candidatesOn(page))
}

const OPENS_MS = 4_000
const LOOK_AGAIN_MS = 250

/**
 * The same, and where nothing on it refuses, what does once more of it was opened. Presses, so that nothing of the page is a figure any
 * more.
 */
export async function findAnswers(page: Page): Promise<ConsentBanner | null> {
  const candidates = await candidatesOn(page)
  const banner = consentBannerIn(candidates)
  if (!banner || banner.refuse) return banner
  const isBanner = ({ selector }: BannerCandidate) => selector === banner.selector
  const here = refusalIn(candidates.filter(isBanner))
  if (here || !banner.more) return { ...banner, refuse: here }
  const own = new Set(controlsOf(candidates.filter(isBanner)))
  const others = new Set(controlsOf(candidates).filter((selector) => !own.has(selector)))
  const { more } = banner
  try {
    await controlOn(page, more.selector).click({ timeout: OPENS_MS })
    for (const until = Date.now() + OPENS_MS; Date.now() < until; await page.waitForTimeout(LOOK_AGAIN_MS)) {
      // What lay over the page before as well, a menu or a letter to order, has nothing to do with the answer.
      const opened = (await candidatesOn(page)).map((candidate) => ({
        ...candidate,
        controls: candidate.controls.filter(({ selector }) => !others.has(selector)),
      }))
      const refuse = refusalIn(opened)
      if (refuse) return { ...banner, refuse: { ...refuse, first: { selector: more.selector, name: more.name } } }
    }
  } catch {
    // It led away, or can't be pressed: then it is no way to refuse.
  }
  return banner
}

const controlsOf = (candidates: readonly BannerCandidate[]) =>
  candidates.flatMap(({ controls }) => controls.map(({ selector }) => selector))

const LIMITS = { candidates: 40, controls: 40, frames: 4, text: 2_000, name: 120 }
const FRAME_MS = 2_000

/** What lies over a page, in frames too: who asks for many sites does so in a frame of his own. */
async function candidatesOn(page: Page): Promise<BannerCandidate[]> {
  const { found, frames } = await page.evaluate(liesOver, { ...LIMITS, whole: false })
  const inFrames = await Promise.all(frames.map((selector) => candidatesIn(page, selector)))
  return [...found, ...inFrames.flat()]
}

/** A frame over the page is a banner or none: all of what it shows. One that does not answer asks nobody. */
async function candidatesIn(page: Page, selector: string): Promise<BannerCandidate[]> {
  const late = new Promise<never>((_, fail) => setTimeout(() => fail(new Error('late')), FRAME_MS).unref())
  const inside = (own: string) => `${selector}${INTO_FRAME}${own}`
  try {
    const frame = await Promise.race([frameAt(page, selector), late])
    if (!frame) return []
    const { found } = await Promise.race([frame.evaluate(liesOver, { ...LIMITS, whole: true }), late])
    return found.map(({ selector: own, controls, switches, ...rest }) => ({
      ...rest,
      selector: inside(own),
      controls: controls.map((control) => ({ ...control, selector: inside(control.selector) })),
      ...(switches && { switches: { ...switches, on: switches.on.map(inside) } }),
    }))
  } catch {
    return []
  }
}

async function frameAt(page: Page, selector: string): Promise<Frame | null> {
  const element = await controlOn(page, selector).elementHandle({ timeout: FRAME_MS })
  return element && element.contentFrame()
}

/**
 * Runs in the page: what is fixed over it or a dialog, open shadow trees included, what there is to press in it, and the frames that lie
 * over it. What it says is the page's own word.
 * @param limits `whole` takes the whole document for one such part, as that of a frame is.
 */
function liesOver(limits: typeof LIMITS & { whole: boolean }): { found: BannerCandidate[]; frames: string[] } {
  // A drawing or a feed has none.
  if (!document.body) return { found: [], frames: [] }
  const isSeen = (element: Element) => {
    const { width, height } = element.getBoundingClientRect()
    const { visibility, display, opacity } = getComputedStyle(element)
    return width > 8 && height > 8 && visibility === 'visible' && display !== 'none' && Number(opacity) > 0.05
  }
  const text = (of: string, most: number) => of.replace(/\s+/g, ' ').trim().slice(0, most)
  const under = (root: Element | ShadowRoot): HTMLElement[] =>
    [...root.querySelectorAll<HTMLElement>('*')].flatMap((element) =>
      element.shadowRoot ? [element, ...under(element.shadowRoot)] : [element],
    )
  const shadowsIn = (element: HTMLElement) => [element, ...under(element)].flatMap(({ shadowRoot }) => shadowRoot ?? [])
  const textOf = (element: HTMLElement) =>
    [element, ...shadowsIn(element).flatMap(({ children }) => [...children] as HTMLElement[])]
      .map((each) => (each.matches('style, script') ? '' : (each.innerText ?? '')))
      .join(' ')
  const selectorOf = (element: Element): string => {
    const steps: string[] = []
    const root = element.getRootNode() as Document | ShadowRoot
    // Across the edge of a shadow tree only a descendant is found.
    const from = 'host' in root ? `${selectorOf(root.host)} ` : ''
    for (let at: Element | null = element; at && at !== document.documentElement; at = at.parentElement) {
      if (at.id && root.querySelectorAll(`#${CSS.escape(at.id)}`).length === 1)
        return from + [`#${CSS.escape(at.id)}`, ...steps].join(' > ')
      const same = [...(at.parentNode?.children ?? [])].filter(({ tagName }) => tagName === at!.tagName)
      steps.unshift(`${at.tagName.toLowerCase()}:nth-of-type(${same.indexOf(at) + 1})`)
    }
    return from + [...(from ? [] : ['html']), ...steps].join(' > ')
  }
  const nameOf = (control: Element) =>
    control.getAttribute('aria-label') ??
    ((control as HTMLInputElement).value || (control as HTMLElement).innerText || control.getAttribute('title') || '')
  const isOver = (element: HTMLElement) => {
    const role = element.getAttribute('role')
    const isDialog = role === 'dialog' || role === 'alertdialog' || element.matches('dialog[open], [aria-modal="true"]')
    return isDialog || ['fixed', 'sticky'].includes(getComputedStyle(element).position)
  }
  const found: BannerCandidate[] = []
  const frames = new Set<string>()
  const over = limits.whole ? [document.body] : under(document.body).filter((each) => isOver(each) && isSeen(each))
  for (const element of over.slice(0, limits.candidates)) {
    const inside = [element, ...under(element), ...(element.shadowRoot ? under(element.shadowRoot) : [])]
    for (const frame of inside)
      if (frame.matches('iframe') && isSeen(frame) && frames.size < limits.frames) frames.add(selectorOf(frame))
    const controls = inside
      .filter(
        (each) => each.matches('button, [role=button], input[type=button], input[type=submit], a') && isSeen(each),
      )
      .slice(0, limits.controls)
      .map((control) => ({
        selector: selectorOf(control),
        name: text(nameOf(control), limits.name),
        leadsAway: control.matches('a[href]') && !/^(#|javascript:|$)/.test(control.getAttribute('href')!),
      }))
    // Drawn switches often hide the box that they are.
    const switches = inside.filter(
      (each) =>
        each.matches('input[type=checkbox], [role=switch], [role=checkbox]') &&
        !each.matches(':disabled, [aria-disabled="true"]'),
    )
    const on = switches.filter((each) => each.matches(':checked, [aria-checked="true"]')).map(selectorOf)
    if (controls.length > 0)
      found.push({
        selector: selectorOf(element),
        text: text(textOf(element), limits.text),
        controls,
        switches: { on, all: switches.length },
      })
  }
  return { found, frames: [...frames] }
}
