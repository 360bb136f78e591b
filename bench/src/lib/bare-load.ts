import { createHmac } from 'node:crypto'
import type { Browser } from 'playwright-core'
import { WayOut } from '@unvelt/server'

/** Through what a page is loaded. */
export interface BareLens {
  device: { viewportWidth: number; viewportHeight: number; cpuSlowdown: number }
  network: { latencyMs: number; downKbps: number; upKbps: number } | null
}

const key = process.env.STANDIN_KEY!

/** One load through the lens, in a fresh context, asked for past the page cache as a reading is. */
export async function bareLoad(
  browser: Browser,
  { device, network }: BareLens,
  url: URL,
  rules = 'live',
): Promise<void> {
  // The same slow line as in a reading: the browser's own slowing lets loads hang.
  const way = network ? await WayOut.start('anywhere', network, [Number(new URL(process.env.STANDIN_URL!).port)]) : null
  const context = await browser.newContext({
    viewport: { width: device.viewportWidth, height: device.viewportHeight },
    ...(way && { proxy: { server: way.address, bypass: '<-loopback>' } }),
  })
  const page = await context.newPage()
  const session = await context.newCDPSession(page)
  if (device.cpuSlowdown > 1) await session.send('Emulation.setCPUThrottlingRate', { rate: device.cpuSlowdown })
  const expires = Math.floor(Date.now() / 1000) + 60
  const signature = createHmac('sha256', key).update(`${expires}\n${url.pathname}${url.search}`).digest('hex')
  const header = {
    name: 'Unvelt-Measure',
    value: `expires=${expires}, signature=${signature}, rules=${rules}, cache=bypass`,
  }
  session.on('Fetch.requestPaused', ({ requestId, request }) => {
    const headers = Object.entries(request.headers).map(([name, value]) => ({ name, value }))
    void session.send('Fetch.continueRequest', { requestId, headers: [...headers, header] }).catch(() => {})
  })
  await session.send('Fetch.enable', {
    patterns: [{ urlPattern: url.href.replace(/[\\*?]/g, '\\$&'), resourceType: 'Document', requestStage: 'Request' }],
  })
  const answer = await page.goto(url.href, { waitUntil: 'load', timeout: 45_000 })
  if (answer?.status() !== 200) throw new Error(`${url.href} under ${rules} answered ${answer?.status()}`)
  // A page that never falls quiet is left as soon as a reading leaves it.
  await page.waitForLoadState('networkidle', { timeout: 10_000 }).catch(() => {})
  await context.close()
  await way?.stop()
}
