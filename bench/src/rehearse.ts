// What trying drafts by the rewriter costs beside reading: a page without and with them, passed through core's rewriter, beside two
// readings of the same kind that go straight to the browser. And comparing its pictures.
import { median, NO_SOURCES, planRewrite, seeded, type ResolvedEffect } from '@unvelt/core'
import { comparePictures, DEFAULT_LENS, endComparing, launchBrowser, readPage, type ReadingOrder } from '@unvelt/server'
import sharp from 'sharp'

const ROUNDS = Number(process.argv[2] ?? 20)
const WARM_UP = 2
const site = new URL(process.env.STANDIN_URL!)
const order: ReadingOrder = { reach: 'anywhere', url: `${site.href}about`, lens: DEFAULT_LENS.settings, clean: true }
const sources = {
  ...NO_SOURCES,
  ownHosts: [site.host],
  prefixes: [{ prefix: '/add-ons/canopy-slider/', addon: 'canopy-slider' }],
}
const effects: ResolvedEffect[] = [{ addon: 'canopy-slider', effect: 'hold', rules: ['a'], conflictsWith: [] }]

const browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
const timed = async (run: () => Promise<unknown>): Promise<number> => {
  const began = performance.now()
  await run()
  return performance.now() - began
}
const bare = async () => {
  await readPage(browser, order)
  await readPage(browser, order)
}
// Held and not left out, so that either side loads as much.
const rehearsed = async () => {
  await readPage(browser, { ...order, rewrite: () => null })
  await readPage(browser, { ...order, rewrite: (url) => planRewrite({ effects, sources, pageUrl: url.href }) })
}
const taken = { bare: [] as number[], rehearsed: [] as number[] }
for (let round = -WARM_UP; round < ROUNDS; round++) {
  const both = [
    ['bare', bare],
    ['rehearsed', rehearsed],
  ] as const
  for (const [name, run] of round % 2 === 0 ? both : [...both].reverse()) {
    const ms = await timed(run)
    if (round >= 0) taken[name].push(ms)
  }
}
await browser.close()

const [WIDTH, HEIGHT] = [1280, 4_000]
const random = seeded(1)
/** A picture of bars like lines of text, some of them moved. */
function picture(shift: number): Promise<Buffer> {
  const bars = Array.from({ length: 200 }, (_, n) => {
    const width = 200 + Math.floor(random() * 900)
    return `<rect x="${40 + (n % 7 === 0 ? shift : 0)}" y="${n * 20}" width="${width}" height="12" fill="#334"/>`
  })
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect width="100%" height="100%" fill="#fff"/>${bars.join('')}</svg>`
  return sharp(Buffer.from(svg)).jpeg({ quality: 60 }).toBuffer()
}
const pictures = { without: [await picture(0), await picture(0)], withRules: [await picture(30)] }
const compared: number[] = []
for (let round = -WARM_UP; round < ROUNDS; round++) {
  const ms = await timed(async () => {
    if (!(await comparePictures(pictures))) throw new Error('nothing was compared')
  })
  if (round >= 0) compared.push(ms)
}
await endComparing()
console.log(
  `two readings: ${median(taken.bare).toFixed(0)} ms; a page without drafts and with them: ${median(taken.rehearsed).toFixed(0)} ms`,
)
console.log(
  `three pictures of ${WIDTH} × ${HEIGHT} decoded and compared in a thread: median ${median(compared).toFixed(0)} ms`,
)
console.log(`rehearse ratio=${(median(taken.rehearsed) / median(taken.bare)).toFixed(3)} goal=1.15`)
