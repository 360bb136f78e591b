import type { Reading, RequestRecord } from '@unvelt/core'

/** Each add-on loads a file by a tag; a third of them bring in another one, and some ask for one file together. */
export function madeUpReading(url: string, addOns: readonly string[], random: () => number): Reading {
  const { origin } = new URL(url)
  const below = (n: number) => Math.floor(random() * n)
  const record = (id: string, part: Partial<RequestRecord>): RequestRecord => ({
    id,
    url,
    method: 'GET',
    type: 'script',
    status: 200,
    mimeType: '',
    protocol: 'h2',
    priority: 'Low',
    startedMs: 0,
    endedMs: 1,
    transferBytes: 500 + below(50_000),
    decodedBytes: 1_000 + below(100_000),
    fromCache: false,
    renderBlocking: false,
    initiator: { type: 'parser', url },
    frameUrl: url,
    responseHeaders: {},
    ...part,
  })
  const requests = [record('page', { type: 'document', initiator: { type: 'other' } })]
  const mainThread: Reading['mainThread'] = []
  const asked = new Set<string>()
  addOns.forEach((addon, n) => {
    const script = `${origin}/add-ons/${addon}/main.js`
    const initiator = { type: 'script' as const, url: script, stack: [{ url: script, line: 0, column: 0 }] }
    requests.push(record(`${n}`, { url: script }))
    mainThread.push({ url: script, line: null, ms: random() * 10 })
    if (n % 3 === 0) requests.push(record(`${n}-more`, { url: `https://far-${n}.test/x.js`, initiator }))
    if (n % 10 !== 0) return
    const shared = `https://shared-${below(5)}.test/lib.js`
    requests.push(
      record(`${n}-lib`, { url: shared, initiator, ...(asked.has(shared) && { fromCache: true, transferBytes: 0 }) }),
    )
    asked.add(shared)
  })
  return {
    url, finalUrl: url, title: '', requests, inlineCode: [], serverTiming: [], domElements: 1, fileUse: [], steps: [], laterUse: [],
    companions: [], elementMakers: [], mainThread, fonts: [], traceId: null, rulesVersion: null, consoleErrors: [],
    timings: {
      ttfb: null, firstContentfulPaint: null, largestContentfulPaint: null, domContentLoaded: null, load: null, quiet: null,
      totalBlockingTime: null, longestTask: null, answers: null, cumulativeLayoutShift: null,
    },
  } // prettier-ignore
}
