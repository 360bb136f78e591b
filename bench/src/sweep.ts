// A whole sweep beside the bare loads it is made of: the same pages, lenses, repeats and requests past the page cache, one at a time.
//   npm run bench -- sweep [pages] [no-steps]
import { launchBrowser } from '@unvelt/server'
import { bareLoad, type BareLens } from './lib/bare-load.js'
import { call, pause, start, sweepToEnd } from './lib/own-unvelt.js'

const PAGES = Number(process.argv[2] ?? 60)
const STEPS = process.argv[3] !== 'no-steps'
const REPEATS = 3
const key = process.env.STANDIN_KEY!
const site = process.env.STANDIN_URL!

type Lens = BareLens & { id: number; name: string }

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
