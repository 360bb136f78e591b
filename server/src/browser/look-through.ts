import type { Browser, BrowserContext, CDPSession } from 'playwright-core'
import type { LensSettings } from '../lens/lens-settings.js'
import type { AnsweredState } from './answer-consent.js'

/** A fresh context that looks the way a lens says. */
export async function contextOf(
  browser: Browser,
  { device }: LensSettings,
  {
    proxy,
    recordHarTo,
    state,
  }: { proxy?: string | undefined; recordHarTo?: string | undefined; state?: AnsweredState | undefined } = {},
): Promise<BrowserContext> {
  const { session, ...kept } = state ?? {}
  const context = await browser.newContext({
    viewport: { width: device.viewportWidth, height: device.viewportHeight },
    acceptDownloads: false,
    ...(state && { storageState: kept as Omit<AnsweredState, 'session'> }),
    ...(recordHarTo !== undefined && { recordHar: { path: recordHarTo, content: 'omit', mode: 'full' } }),
    // Without the bypass rule the browser would go to loopback directly, past the guard.
    ...(proxy !== undefined && { proxy: { server: proxy, bypass: '<-loopback>' } }),
    ...(device.phone && { isMobile: true, hasTouch: true, deviceScaleFactor: 2, userAgent: phoneAgent(browser) }),
  })
  if (session) await context.addInitScript(answerSession, session)
  return context
}

/** Runs in the page before anything of its own. */
function answerSession({ origin, entries }: NonNullable<AnsweredState['session']>): void {
  if (location.origin !== origin) return
  for (const [name, value] of entries) if (sessionStorage.getItem(name) === null) sessionStorage.setItem(name, value)
}

/** What the browser calls itself through a lens; undefined where it is its own name. */
export const agentOf = (browser: Browser, { device }: LensSettings): string | undefined =>
  device.phone ? phoneAgent(browser) : undefined

/** Slows the page's processor as the lens says. The line is slowed on the way out. */
export async function slowProcessor(session: CDPSession, { device }: LensSettings): Promise<void> {
  if (device.cpuSlowdown > 1) await session.send('Emulation.setCPUThrottlingRate', { rate: device.cpuSlowdown })
}

/** Takes that back, for what is done on the page after its times are taken. */
export async function hurryProcessor(session: CDPSession, { device }: LensSettings): Promise<void> {
  if (device.cpuSlowdown > 1) await session.send('Emulation.setCPUThrottlingRate', { rate: 1 })
}

const phoneAgent = (browser: Browser) =>
  `Mozilla/5.0 (Linux; Android 16) AppleWebKit/537.36 (KHTML, like Gecko) HeadlessChrome/${browser.version()} Mobile Safari/537.36`
