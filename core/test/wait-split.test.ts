import fc from 'fast-check'
import { attribute, NO_SOURCES, waitSplit } from '../src/index.js'
import { anyReading, anySources, reading, record } from './reading-arbitrary.js'

const timings = (ttfb: number | null, load: number | null) => ({ ...reading([]).timings, ttfb, load })

describe('the split of the wait', () => {
  it('adds up to the load event, and no part is less than nothing', () => {
    fc.assert(
      fc.property(anyReading, anySources, fc.nat(3000), fc.nat(9000), (base, sources, ttfb, load) => {
        const page = { ...base, timings: timings(ttfb, load) }
        const split = waitSplit(page, attribute(page, sources))!
        const parts = Object.values(split) as number[]
        expect(parts.reduce((sum, part) => sum + part, 0)).toBeCloseTo(load, 6)
        for (const part of parts) expect(part).toBeGreaterThanOrEqual(-1e-9)
      }),
    )
  })

  it('tells host, CMS, add-ons and content apart', () => {
    const sources = { ...NO_SOURCES, ownHosts: ['site.test'], register: { '/a.js': 'a' } }
    const page = reading(
      [
        record('page', { url: 'https://site.test/', type: 'document', startedMs: 0, endedMs: 310 }),
        record('a', { url: 'https://site.test/a.js', startedMs: 320, endedMs: 420 }),
        record('b', { url: 'https://site.test/a.js', startedMs: 400, endedMs: 520 }),
      ],
      {
        timings: timings(300, 600),
        serverTiming: [
          { name: 'total', duration: 200, description: '' },
          { name: 'cms', duration: 50, description: '' },
          { name: 'addon.a', duration: 120, description: '' },
        ],
      },
    )
    expect(waitSplit(page, attribute(page, sources))).toEqual({
      hostAndNetwork: 100,
      cms: 80,
      addOnsOnServer: 120,
      addOnsInBrowser: 200,
      content: 100,
    })
  })

  it('is none where the browser gave no load event', () => {
    const page = reading([], { timings: timings(10, null) })
    expect(waitSplit(page, attribute(page, NO_SOURCES))).toBeNull()
  })
})
