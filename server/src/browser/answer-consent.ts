import type { BrowserContext, BrowserContextOptions, Locator, Page } from 'playwright-core'
import type { LensConsent } from '../lens/lens-settings.js'
import { ReadingFailure } from '../reading/failure.js'
import { cookiesFor } from '../site-http/sign-in.js'
import { controlOn } from './control-on-page.js'
import { findBanner } from './find-banner.js'

/** Cookies and storage, as Playwright has them. */
type KeptState = Exclude<BrowserContextOptions['storageState'], string | undefined>

/** What a browser keeps of an answer. */
export interface AnsweredState extends KeptState {
  /** What it keeps as long as the tab is open, of one origin. */
  session?: { origin: string; entries: [name: string, value: string][] }
}

const NOT_THERE_MS = 5_000
const SWITCHES_MS = 2_000
const LOOK_AGAIN_MS = 50
/** What a press sets off is mostly over by then; what it loads is nobody's figure. */
const SETTLE_MS = 3_000
/** An answer is good for many pages, as it is for a visitor; longer, and a site may ask again. */
const GOOD_FOR_MS = 10 * 60_000
const MOST_KEPT = 50

const kept = new Map<string, { state: AnsweredState; at: number }>()
const keyOf = (origin: string, consent: LensConsent) => JSON.stringify([origin, consent])

/** An answer that was given before, or that is an entry of its own; undefined where the banner has to be pressed. */
export function knownAnswer(url: string, consent: LensConsent): AnsweredState | undefined {
  const { origin } = new URL(url)
  if (consent.by === 'cookie')
    return {
      cookies: cookiesFor(consent.cookie, origin).map(({ name, value }) => ({
        name,
        value,
        domain: new URL(url).hostname,
        path: '/',
        expires: -1,
        httpOnly: false,
        secure: origin.startsWith('https:'),
        sameSite: 'Lax' as const,
      })),
      origins: [],
    }
  if (consent.by === 'storage')
    return { cookies: [], origins: [{ origin, localStorage: [{ name: consent.key, value: consent.value }] }] }
  if (consent.by === 'session')
    return { cookies: [], origins: [], session: { origin, entries: [[consent.key, consent.value]] } }
  const before = kept.get(keyOf(origin, consent))
  return before && Date.now() - before.at < GOOD_FOR_MS ? before.state : undefined
}

/** Presses on the site's own banner, on a page that has loaded in a browser that nobody measures, and keeps what it keeps. */
export async function pressAnswer(
  context: BrowserContext,
  page: Page,
  url: string,
  consent: LensConsent & { by: 'press' },
): Promise<AnsweredState> {
  const before = await sessionOf(page)
  try {
    if (consent.first) await press(page, consent.first)
    for (const selector of consent.off ?? []) await switchOff(page, selector)
    await controlOn(page, consent.selector).waitFor({ timeout: NOT_THERE_MS })
    if (!(await isToBePressed(page, consent))) throw new Error('something else')
    await controlOn(page, consent.selector).click({ timeout: NOT_THERE_MS })
  } catch {
    throw new ReadingFailure(
      `The site’s consent banner is not on ${new URL(page.url()).pathname}, or has no “${consent.name}” to press any more.`,
    )
  }
  await page.waitForLoadState('networkidle', { timeout: SETTLE_MS }).catch(() => {})
  const { cookies, origins } = await context.storageState()
  const entries = (await sessionOf(page)).filter(([name, value]) => !before.some(([n, v]) => n === name && v === value))
  const { origin } = new URL(page.url())
  const state: AnsweredState = { cookies, origins, ...(entries.length > 0 && { session: { origin, entries } }) }
  kept.set(keyOf(new URL(url).origin, consent), { state, at: Date.now() })
  for (const [key] of kept) if (kept.size > MOST_KEPT) kept.delete(key)
  return state
}

async function press(page: Page, { selector, name }: { selector: string; name: string }): Promise<void> {
  const control = controlOn(page, selector)
  await control.waitFor({ timeout: NOT_THERE_MS })
  if (!(await says(control, name))) throw new Error('something else')
  await control.click({ timeout: NOT_THERE_MS })
}

/** Drawn switches often hide the box that they are, so it is pressed where it stands and not where it is seen. */
async function switchOff(page: Page, selector: string): Promise<void> {
  const isOn = () => control.evaluate((element: HTMLElement) => element.matches(':checked, [aria-checked="true"]'))
  const control = controlOn(page, selector)
  await control.waitFor({ state: 'attached', timeout: NOT_THERE_MS })
  if (!(await isOn())) return
  await control.evaluate((element: HTMLElement) => element.click())
  // A page may draw what was switched only a while later.
  for (const until = Date.now() + SWITCHES_MS; await isOn(); await page.waitForTimeout(LOOK_AGAIN_MS))
    if (Date.now() > until) throw new Error('still on')
}

const MOST_ENTRIES = 100
const LONGEST_ENTRY = 8_000

/** What the page keeps as long as its tab is open. */
async function sessionOf(page: Page): Promise<[string, string][]> {
  const told = await page.evaluate(() => Object.entries({ ...sessionStorage })).catch(() => [])
  return told.slice(0, MOST_ENTRIES).filter(([name, value]) => name.length + value.length <= LONGEST_ENTRY)
}

/** A place on a page is something else on another; where it is known what stands on it, it has to stand there. */
async function isToBePressed(page: Page, { selector, name }: LensConsent & { by: 'press' }): Promise<boolean> {
  const control = controlOn(page, selector)
  return (await control.isVisible()) && (await says(control, name))
}

async function says(control: Locator, name: string): Promise<boolean> {
  const said = await control.evaluate((element: HTMLElement) =>
    [element.getAttribute('aria-label'), (element as HTMLInputElement).value, element.innerText, element.title].join(
      ' ',
    ),
  )
  return said.replace(/\s+/g, ' ').includes(name)
}

/** A page that asks all the same was not seen as the lens says. */
export async function refuseUnanswered(page: Page, url: string, consent: LensConsent): Promise<void> {
  const banner = await findBanner(page)
  const stillThere = consent.by === 'press' && (await isToBePressed(page, consent))
  if (!banner && !stillThere) return
  kept.delete(keyOf(new URL(url).origin, consent))
  throw new ReadingFailure('The page asks for consent, though the lens has answered already.')
}
