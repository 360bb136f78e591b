import type { Browser, BrowserContext, CDPSession } from 'playwright-core'
import type { LensSettings } from '../lens/lens-settings.js'

const BITS = 8

/** A fresh context that looks the way a lens says. */
export async function contextOf(
  browser: Browser,
  { device }: LensSettings,
  { proxy, recordHarTo }: { proxy?: string | undefined; recordHarTo?: string | undefined } = {},
): Promise<BrowserContext> {
  return browser.newContext({
    viewport: { width: device.viewportWidth, height: device.viewportHeight },
    acceptDownloads: false,
    ...(recordHarTo !== undefined && { recordHar: { path: recordHarTo, content: 'omit', mode: 'full' } }),
    // Without the bypass rule the browser would go to loopback directly, past the guard.
    ...(proxy !== undefined && { proxy: { server: proxy, bypass: '<-loopback>' } }),
    ...(device.phone && { isMobile: true, hasTouch: true, deviceScaleFactor: 2, userAgent: phoneAgent(browser) }),
  })
}

/** What the browser calls itself through a lens; undefined where it is its own name. */
export const agentOf = (browser: Browser, { device }: LensSettings): string | undefined =>
  device.phone ? phoneAgent(browser) : undefined

/** Slows network and processor down as the lens says. */
export async function slowDown(
  session: CDPSession,
  { device, network }: LensSettings,
  { processor }: { processor: boolean },
): Promise<void> {
  if (processor && device.cpuSlowdown > 1)
    await session.send('Emulation.setCPUThrottlingRate', { rate: device.cpuSlowdown })
  if (network)
    await session.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: network.latencyMs,
      downloadThroughput: (network.downKbps * 1000) / BITS,
      uploadThroughput: (network.upKbps * 1000) / BITS,
    })
}

/** Takes back what slows the page, for what is done on it after its times are taken. */
export async function hurryUp(session: CDPSession, { device, network }: LensSettings): Promise<void> {
  if (device.cpuSlowdown > 1) await session.send('Emulation.setCPUThrottlingRate', { rate: 1 })
  if (network)
    await session.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: 0,
      downloadThroughput: -1,
      uploadThroughput: -1,
    })
}

const phoneAgent = (browser: Browser) =>
  `Mozilla/5.0 (Linux; Android 16) AppleWebKit/537.36 (KHTML, like Gecko) HeadlessChrome/${browser.version()} Mobile Safari/537.36`
