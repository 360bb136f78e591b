import fc from 'fast-check'
import type { AttributionSources, InlineCode, Reading, RequestRecord } from '../src/index.js'

const HOSTS = ['site.test', 'cdn.site.test', 'count.outer.test', 'ads.other.test']
const PATHS = ['/', '/add-ons/a/x.js', '/add-ons/b/y.css', '/themes/t/t.css', '/media/p.png', '/free.js', '/m.js']
const url = fc
  .tuple(fc.constantFrom(...HOSTS), fc.constantFrom(...PATHS))
  .map(([host, path]) => `https://${host}${path}`)
const size = fc.integer({ min: 0, max: 5_000_000 })

const request = fc.record({
  url,
  type: fc.constantFrom('script', 'style', 'picture', 'font', 'fetch', 'frame', 'other') as fc.Arbitrary<
    RequestRecord['type']
  >,
  status: fc.option(fc.constantFrom(200, 302, 404, 500)),
  transferBytes: size,
  decodedBytes: size,
  fromCache: fc.boolean(),
  initiator: fc.oneof(
    fc.record({ type: fc.constant('parser' as const), url }),
    fc.record({
      type: fc.constant('script' as const),
      url,
      line: fc.nat(40),
      stack: fc.array(fc.record({ url, line: fc.nat(40), column: fc.nat(80) }), { maxLength: 4 }),
    }),
    fc.constant({ type: 'other' as const }),
  ),
  redirectedFromIndex: fc.option(fc.nat(30)),
})

const range = fc.tuple(fc.nat(5_000_000), fc.nat(5_000_000)) as fc.Arbitrary<[number, number]>

const inline = fc.record({
  type: fc.constantFrom('script', 'style') as fc.Arbitrary<InlineCode['type']>,
  elementId: fc.option(fc.constantFrom('known', 'other')),
  hash: fc.constantFrom('aaaaaaaa', 'bbbbbbbb'),
  bytes: fc.nat(100_000),
  startLine: fc.nat(40),
  used: fc.option(fc.array(range, { maxLength: 3 })),
})

const timing = fc.record({
  name: fc.constantFrom('total', 'cms', 'addon.a', 'addon.b', 'addon.a.db', 'else'),
  duration: fc.option(fc.integer({ min: 0, max: 4000 })),
  description: fc.constantFrom('', '12'),
})

const scriptTime = fc.record({
  url: fc.oneof(url, fc.constant('')),
  line: fc.option(fc.nat(40)),
  ms: fc.nat(4000),
})

/** Any reading a hostile site could cause: broken chains, loops, sizes that contradict each other. */
export const anyReading: fc.Arbitrary<Reading> = fc
  .record({
    requests: fc.array(request, { maxLength: 30 }),
    documentBytes: size,
    inlineCode: fc.array(inline, { maxLength: 6 }),
    serverTiming: fc.array(timing, { maxLength: 8 }),
    mainThread: fc.array(scriptTime, { maxLength: 12 }),
    fileUse: fc.array(fc.record({ request: fc.nat(32), used: fc.array(range, { maxLength: 5 }) }), { maxLength: 8 }),
  })
  .map(({ requests, documentBytes, inlineCode, serverTiming, mainThread, fileUse }) => {
    const page = record('page', {
      url: 'https://site.test/',
      type: 'document',
      status: 200,
      transferBytes: documentBytes,
      decodedBytes: documentBytes,
    })
    const others = requests.map(({ redirectedFromIndex, ...r }, index) =>
      record(`r${index}`, {
        ...r,
        ...(redirectedFromIndex !== null && { redirectedFrom: `r${redirectedFromIndex}` }),
      }),
    )
    return reading([page, ...others], {
      inlineCode: inlineCode.map(({ used, ...code }) => ({
        ...code,
        endLine: code.startLine + 3,
        ...(used && { used }),
      })),
      serverTiming,
      mainThread,
      fileUse: fileUse.map(({ request: n, used }) => ({ requestId: `r${n}`, used })),
    })
  })

export const anySources: fc.Arbitrary<AttributionSources> = fc.record({
  ownHosts: fc.constantFrom(['site.test'], ['site.test', 'cdn.site.test']),
  register: fc.constantFrom({}, { '/add-ons/a/x.js': 'a' }, { '/free.js': 'b', '/m.js': 'lib' }),
  prefixes: fc.constantFrom(
    [],
    [
      { prefix: '/add-ons/a/', addon: 'a' },
      { prefix: '/add-ons/b/', addon: 'b' },
    ],
  ),
  patterns: fc.constantFrom([], [{ pattern: '/media/*', addon: 'gallery' }]),
  inline: fc.constantFrom([], [{ elementId: 'known', addon: 'snippet' }], [{ hash: 'bbbbbbbb', addon: 'pasted' }]),
  outsiders: fc.constantFrom({}, { 'outer.test': 'counter' }),
  glued: fc.constantFrom(
    {},
    {
      '/m.js': [
        { addon: 'a', from: 0, bytes: 300 },
        { addon: null, from: 300, bytes: 1 },
        { addon: 'b', from: 301, bytes: 0 },
      ],
      '/free.js': [],
    },
  ),
  folders: fc.constantFrom([], [{ prefix: '/media/', payer: 'content' }]),
})

export function record(id: string, part: Partial<RequestRecord>): RequestRecord {
  return {
    id,
    url: 'https://site.test/x',
    method: 'GET',
    type: 'script',
    status: 200,
    mimeType: '',
    protocol: 'http/1.1',
    priority: 'Low',
    startedMs: 0,
    endedMs: 1,
    transferBytes: 100,
    decodedBytes: 200,
    fromCache: false,
    renderBlocking: false,
    initiator: { type: 'parser', url: 'https://site.test/' },
    frameUrl: 'https://site.test/',
    responseHeaders: {},
    ...part,
  }
}

export function reading(requests: RequestRecord[], part: Partial<Reading> = {}): Reading {
  return {
    url: 'https://site.test/',
    finalUrl: 'https://site.test/',
    title: '',
    requests,
    inlineCode: [],
    serverTiming: [],
    timings: {
      ttfb: null,
      firstContentfulPaint: null,
      largestContentfulPaint: null,
      domContentLoaded: null,
      load: null,
      quiet: null,
      totalBlockingTime: null,
      longestTask: null,
      answers: null,
      cumulativeLayoutShift: null,
    },
    domElements: 1,
    fileUse: [],
    steps: [],
    laterUse: [],
    companions: [],
    elementMakers: [],
    mainThread: [],
    fonts: [],
    traceId: null,
    rulesVersion: null,
    consoleErrors: [],
    ...part,
  }
}
