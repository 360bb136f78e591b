// What attribution and tolls cost: one reading of 300 requests, and many readings of 100, from their stored form to tolls.
import { gunzipSync, gzipSync } from 'node:zlib'
import { attribute, median, NO_SOURCES, tolls, type AttributionSources, type Reading } from '@unvelt/core'
import { DEFAULT_LENS, launchBrowser, readPage } from '@unvelt/server'

const ROUNDS = 200
const url = `${process.env.STANDIN_URL}/articles/first-frost`

const browser = await launchBrowser(process.env.UNVELT_CHROMIUM ?? '/usr/bin/chromium')
const real = await readPage(browser, { reach: 'anywhere', url, lens: DEFAULT_LENS.settings })
await browser.close()

const slugs = [...new Set(real.requests.flatMap((r) => /\/add-ons\/([^/]+)\//.exec(r.url)?.[1] ?? []))]
const sources: AttributionSources = {
  ...NO_SOURCES,
  ownHosts: [new URL(url).host],
  prefixes: slugs.map((addon) => ({ prefix: `/add-ons/${addon}/`, addon })),
  patterns: Array.from({ length: 20 }, (_, n) => ({ pattern: `https://*.nobody-${n}.test/*`, addon: `nobody-${n}` })),
}

/** The real reading, with as many requests as are asked for. */
function withRequests(count: number): Reading {
  const requests = Array.from({ length: count }, (_, n) => {
    const request = real.requests[n % real.requests.length]!
    return n < real.requests.length ? request : { ...request, id: `${request.id}-${n}` }
  })
  return { ...real, requests }
}

const large = withRequests(300)
const times: number[] = []
for (let n = 0; n < ROUNDS; n++) {
  const began = performance.now()
  tolls(large, attribute(large, sources))
  times.push(performance.now() - began)
}
console.log(`300 requests: median ${median(times).toFixed(2)} ms, the first ${times[0]!.toFixed(2)} ms`)

/** From the gzipped JSON that the database keeps to tolls, as a sweep is worked out anew. */
const stored = gzipSync(JSON.stringify(withRequests(100)))
function workOut(count: number): number {
  const began = performance.now()
  for (let n = 0; n < count; n++) {
    const reading = JSON.parse(gunzipSync(stored).toString('utf8')) as Reading
    tolls(reading, attribute(reading, sources))
  }
  return performance.now() - began
}
workOut(200)
const few = workOut(1_000)
const many = workOut(10_000)
const memory = process.memoryUsage().rss / 1e6
console.log(
  `1,000 readings of 100 requests: ${(few / 1000).toFixed(2)} s; 10,000: ${(many / 1000).toFixed(2)} s; memory ${memory.toFixed(0)} MB`,
)
console.log(`ten times the readings take ${(many / few).toFixed(2)} times as long`)
console.log(`attribution ratio=${(median(times) / 5).toFixed(3)} goal=1`)
