// A whole sweep beside the bare loads it is made of: the same pages, lenses, repeats and requests past the page cache, one at a time.
//   npm run bench -- sweep [pages] [no-steps]
import { createHmac } from 'node:crypto'
import type { Browser } from 'playwright-core'
import { launchBrowser, WayOut } from '@unvelt/server'
import { call, pause, start, sweepToEnd } from './lib/own-unvelt.js'

const PAGES = Number(process.argv[2] ?? 60)
const STEPS = process.argv[3] !== 'no-steps'
const REPEATS = 3
const key = process.env.STANDIN_KEY!
const site = process.env.STANDIN_URL!

interface Lens {
  id: number
  name: string
  device: { viewportWidth: number; viewportHeight: number; cpuSlowdown: number }
  network: { latencyMs: number; downKbps: number; upKbps: number } | null
}

const running = [start('main.js')]

try {
  while (!(await call('GET', '/health').catch(() => null))) await pause(200)
  const { id } = await call<{ id: number }>('POST', '/sites', { address: site, connectorKey: key, local: true })
  const pages = (
    await call<{ id: number; path: string; area: string; signedIn: boolean }[]>('GET', `/sites/${id}/pages`)
  )
    .filter(({ area, signedIn }) => area === 'public' && !signedIn)
    .slice(0, PAGES)
  if (!STEPS) await call('PUT', `/sites/${id}/steps`, { steps: [] })
  const lenses = (await call<Lens[]>('GET', `/sites/${id}/lenses`)).slice(0, 2)
  const browser = await launchBrowser(process.env.UNVELT_CHROMIUM!)
  running.push(start('worker/worker.js'))
  let swept = 0
  let bare = 0
  for (const lens of lenses) {
    // Half of the bare loads before the sweep and half after, so that what drifts meanwhile drifts for both.
    for (const half of [0, 1]) {
      const began = performance.now()
      for (const [n, { path }] of pages.entries())
        for (let repeat = 0; repeat < REPEATS; repeat++)
          if ((n + repeat) % 2 === half) await bareLoad(browser, lens, new URL(path, site))
      bare += performance.now() - began
      if (half === 1) continue
      const pageIds = pages.map((page) => page.id)
      swept += (await sweepToEnd(id, { lensIds: [lens.id], pageIds, repeats: REPEATS })).ms
    }
  }
  await browser.close()
  const each = (ms: number) => `${(ms / (pages.length * lenses.length * REPEATS)).toFixed(0)} ms a load`
  console.log(
    `${pages.length} pages, ${lenses.map(({ name }) => name).join(' and ')}, ${REPEATS} repeats, ${STEPS ? 'with' : 'without'} steps`,
  )
  console.log(
    `bare loads: ${(bare / 1000).toFixed(1)} s, ${each(bare)}; sweep: ${(swept / 1000).toFixed(1)} s, ${each(swept)}`,
  )
  console.log(`sweep ratio=${(swept / bare).toFixed(3)} goal=1.25`)
} finally {
  for (const child of running.reverse()) child.kill('SIGTERM')
}

/** One load through the lens, in a fresh context, asked for past the page cache as a reading is. */
async function bareLoad(browser: Browser, { device, network }: Lens, url: URL): Promise<void> {
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
    value: `expires=${expires}, signature=${signature}, rules=live, cache=bypass`,
  }
  session.on('Fetch.requestPaused', ({ requestId, request }) => {
    const headers = Object.entries(request.headers).map(([name, value]) => ({ name, value }))
    void session.send('Fetch.continueRequest', { requestId, headers: [...headers, header] }).catch(() => {})
  })
  await session.send('Fetch.enable', {
    patterns: [{ urlPattern: url.href.replace(/[\\*?]/g, '\\$&'), resourceType: 'Document', requestStage: 'Request' }],
  })
  await page.goto(url.href, { waitUntil: 'load', timeout: 45_000 })
  // A page that never falls quiet is left as soon as a reading leaves it.
  await page.waitForLoadState('networkidle', { timeout: 10_000 }).catch(() => {})
  await context.close()
  await way?.stop()
}
