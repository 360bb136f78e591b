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

/** Clean, as those repeats are that give the times; or with all that is looked at besides. */
async function reading(browser: Browser, clean: boolean): Promise<Timed> {
  const began = performance.now()
  const reading = await readPage(browser, { reach: 'anywhere', url, lens: DEFAULT_LENS.settings, clean })
  return { wallMs: performance.now() - began, loadMs: reading.timings.load! }
}

const browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
const ways = {
  'bare goto': () => bareLoad(browser),
  'clean reading': () => reading(browser, true),
  'full reading': () => reading(browser, false),
}
type Way = keyof typeof ways
const names = Object.keys(ways) as Way[]
const taken: Record<Way, Timed[]> = { 'bare goto': [], 'clean reading': [], 'full reading': [] }
// Every order in turn, so that none has always the same one before it.
const [a, b, c] = names as [Way, Way, Way]
const orders = [
  [a, b, c],
  [c, b, a],
  [b, a, c],
  [c, a, b],
  [b, c, a],
  [a, c, b],
]
for (let round = -WARM_UP; round < ROUNDS; round++)
  for (const name of orders[(round + WARM_UP) % orders.length]!) {
    const timed = await ways[name]()
    if (round >= 0) taken[name].push(timed)
  }
await browser.close()
const middle = (name: Way, figure: keyof Timed) => median(taken[name].map((timed) => timed[figure]))
for (const name of names)
  console.log(
    `${name.padEnd(13)}: median load event ${middle(name, 'loadMs').toFixed(1)} ms, wall ${middle(name, 'wallMs').toFixed(1)} ms over ${ROUNDS}`,
  )
const ratio = (name: Way, figure: keyof Timed) => (middle(name, figure) / middle('bare goto', figure)).toFixed(3)
console.log(`full reading: ratio ${ratio('full reading', 'loadMs')} of the load event`)
console.log(`full reading with idle bytes: ratio ${ratio('full reading', 'wallMs')} of the wall time (goal 2.0)`)
// What the page itself feels of being measured.
console.log(`reading ratio=${ratio('clean reading', 'loadMs')} goal=1.05`)
