import { request } from 'node:http'

/**
 * What the arboretum's site was like at each of the recorded sweeps, oldest first. The last is what the stand-in of the
 * demo is brought to, so that the past leads up to the present.
 */
const NOT_YET = [
  'tagbasket',
  'page-tally',
  'related-reads',
  'picture-wall',
  'reel-frames',
  'garden-badge',
  'sky-reports',
  'ribbon-share',
  'festival-programme',
]
const without = (...there) => NOT_YET.filter((slug) => !there.includes(slug))
const FIRST = ['tagbasket', 'page-tally', 'related-reads']
const SECOND = [...FIRST, 'picture-wall', 'reel-frames', 'garden-badge']

/** Of the builder's forty blocks, how many are switched on. */
export const PAST = [
  { daysAgo: 119, repeats: 1, missing: without(), blocksOn: 12, settings: { 'walk-almanac': { 'most-walks': 4 } } },
  { daysAgo: 84, repeats: 1, missing: without(...FIRST), blocksOn: 12, settings: {} },
  { daysAgo: 49, repeats: 1, missing: without(...SECOND), blocksOn: 24, settings: {} },
  {
    daysAgo: 21,
    repeats: 1,
    missing: ['festival-programme'],
    blocksOn: 40,
    settings: { 'walk-almanac': { 'most-walks': 10 } },
  },
  {
    daysAgo: 2,
    repeats: 3,
    missing: [],
    blocksOn: 40,
    settings: {},
    versions: { 'pass-it-on': '3.0.4-plus', 'code-colours': '4.1.0' },
  },
]

/** Brings the stand-in to one of these states, through its connector. */
export async function bringTo(state, call) {
  const { addOns } = await call('GET', '/inventory')
  const there = new Set(addOns.map(({ slug }) => slug))
  for (const slug of NOT_YET)
    if (state.missing.includes(slug)) {
      if (there.has(slug)) await call('DELETE', `/add-ons/${slug}`)
    } else if (!there.has(slug)) await call('POST', `/add-ons/${slug}/install`, {})
  const builder = addOns.find(({ slug }) => slug === 'grove-builder')
  // Those in use are never off: nobody would switch off what is on a page.
  const byUse = [...builder.features].sort((a, b) => b.uses - a.uses || a.slug.localeCompare(b.slug))
  await call('PUT', '/add-ons/grove-builder/features', {
    features: Object.fromEntries(byUse.map(({ slug }, index) => [slug, index < state.blocksOn])),
    settings: {},
  })
  for (const [slug, settings] of Object.entries(state.settings))
    await call('PUT', `/add-ons/${slug}/features`, { features: {}, settings })
  for (const [slug, version] of Object.entries(state.versions ?? {}))
    await call('POST', `/add-ons/${slug}/install`, { version })
}

/** Speaks the stand-in's connector. Its host is on loopback, which the system's resolver need not know. */
export const connectorOf =
  ({ standinAddress, connectorKey }) =>
  (method, path, body, more = {}) =>
    new Promise((resolve, reject) => {
      const { host, port } = new URL(standinAddress)
      const headers = { ...more, host, authorization: `Bearer ${connectorKey}`, 'content-type': 'application/json' }
      const sent = request({ host: '127.0.0.1', port, method, path: `/unvelt/v1${path}`, headers }, async (answer) => {
        let text = ''
        for await (const part of answer.setEncoding('utf8')) text += part
        if (answer.statusCode < 300) resolve(JSON.parse(text))
        else reject(new Error(`${method} ${path}: ${answer.statusCode} ${text.slice(0, 300)}`))
      })
      sent.once('error', reject)
      sent.end(body && JSON.stringify(body))
    })
