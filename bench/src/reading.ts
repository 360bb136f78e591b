// What Unvelt's full reading costs beside a bare load of the same page: the same wait for quiet, the same fresh context,
// interleaved in one run.
import type { Browser } from 'playwright-core'
import { median } from '@unvelt/core'
import { DEFAULT_LENS, launchBrowser, readPage } from '@unvelt/server'

const ROUNDS = Number(process.argv[2] ?? 40)
const WARM_UP = 3
const url = `${process.env.STANDIN_URL}/`
const { viewportWidth: width, viewportHeight: height } = DEFAULT_LENS.settings.device

interface Timed {
  wallMs: number
  loadMs: number
}

async function bareLoad(browser: Browser): Promise<Timed> {
  const began = performance.now()
  const context = await browser.newContext({ viewport: { width, height } })
  const page = await context.newPage()
  await page.goto(url, { waitUntil: 'networkidle' })
  const wallMs = performance.now() - began
  const loadMs = await page.evaluate(
    () => (performance.getEntriesByType('navigation')[0] as PerformanceNavigationTiming).loadEventEnd,
  )
  await context.close()
  return { wallMs, loadMs }
}

async function fullReading(browser: Browser): Promise<Timed> {
  const began = performance.now()
  const reading = await readPage(browser, { reach: 'anywhere', url, lens: DEFAULT_LENS.settings })
  return { wallMs: performance.now() - began, loadMs: reading.timings.load! }
}

const browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
const bare: Timed[] = []
const full: Timed[] = []
for (let round = -WARM_UP; round < ROUNDS; round++) {
  const pair =
    round % 2
      ? [await bareLoad(browser), await fullReading(browser)]
      : [await fullReading(browser), await bareLoad(browser)]
  const [b, f] = round % 2 ? pair : [pair[1], pair[0]]
  if (round < 0) continue
  bare.push(b!)
  full.push(f!)
}
await browser.close()
const ratio = (figure: keyof Timed) => median(full.map((t) => t[figure])) / median(bare.map((t) => t[figure]))
const line = (name: string, list: Timed[]) =>
  console.log(
    `${name}: median load event ${median(list.map((t) => t.loadMs)).toFixed(1)} ms, wall ${median(list.map((t) => t.wallMs)).toFixed(1)} ms over ${list.length}`,
  )
line('bare goto   ', bare)
line('full reading', full)
console.log(`whole reading with idle bytes: ratio ${ratio('wallMs').toFixed(3)} of the wall time (goal 2.0)`)
// What the page itself feels of being measured.
console.log(`reading ratio=${ratio('loadMs').toFixed(3)} goal=1.05`)
