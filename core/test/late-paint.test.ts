import fc from 'fast-check'
import { firstMove, latePaint, type Reading } from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

const PICTURE = 'https://site.test/wide.jpg'
const STYLE = 'https://site.test/all.css'

/** A page with a picture that is asked for at a moment; its first byte comes at 200 ms, the largest paint at 1,500. */
function page(
  askedMs: number,
  { initiator = { type: 'parser' }, lazy = false, isFirst = false, fromCache = false, ...more }: Partial<Reading> & { initiator?: Reading['requests'][0]['initiator']; lazy?: boolean; isFirst?: boolean; fromCache?: boolean } = {}, // prettier-ignore
): Reading {
  const all = reading([
    record('page', { url: 'https://site.test/', type: 'document' }),
    record('style', { url: STYLE, type: 'style' }),
    record('picture', { url: PICTURE, type: 'picture', startedMs: askedMs, initiator, fromCache }),
  ])
  const timings = { ...all.timings, ttfb: 200, largestContentfulPaint: 1500 }
  return { ...all, timings, largestPaint: { url: PICTURE, lazy, isFirst }, ...more }
}

describe('a late largest paint', () => {
  it.each([
    ['waits', page(900, { lazy: true })],
    ['style', page(900, { initiator: { type: 'parser', url: STYLE } })],
    ['script', page(900, { initiator: { type: 'script', url: 'https://site.test/a.js' } })],
    ['turn', page(900)],
  ])('says why it is late: %s', (because, one) => {
    expect(latePaint([one])).toEqual({ url: PICTURE, because, couldMs: 200, askedMs: 900, paintedMs: 1500 })
  })

  it.each([
    ['soon enough', page(320)],
    ['by less than anybody sees', page(290)],
    ['told to come first', page(900, { isFirst: true })],
    ['announced', page(900, { initiator: { type: 'preload' } })],
    ['at hand', page(900, { fromCache: true })],
    ['no picture', page(900, { largestPaint: undefined })],
    ['read beside other loads', page(900, { untimed: true })],
    ['drawn from somewhere else', page(1600)],
  ])('is none where it is %s', (_, one) => expect(latePaint([one])).toBeNull())

  it('is late in every timed reading, for one reason, or not at all', () => {
    const late = [page(900), page(700), page(1200)]
    expect(latePaint(late)).toMatchObject({ askedMs: 900 })
    expect(latePaint([...late, page(250, { untimed: true })])).toMatchObject({ askedMs: 900 })
    expect(latePaint([...late, page(250)])).toBeNull()
    expect(latePaint([...late, page(900, { lazy: true })])).toBeNull()
    expect(latePaint([])).toBeNull()
  })

  it('never promises more than the delay that was read, nor a move that is too small', () => {
    const one = fc.record({ lateMs: fc.integer({ min: 100, max: 5000 }), inThousand: fc.double({ min: 0, max: 20, noNaN: true }) }) // prettier-ignore
    fc.assert(
      fc.property(fc.array(one, { maxLength: 300 }), (list) => {
        const pages = list.map((each, n) => ({ ...each, path: `/${n}`, addon: 'content', file: `/${n}.jpg`, because: 'script' as const, device: 'desk' as const })) // prettier-ignore
        const all = pages.reduce((sum, { lateMs, inThousand }) => sum + lateMs * inThousand, 0)
        const move = firstMove(pages)
        if (!move) return pages.length > 200 || expect(all).toBeLessThan(1000)
        expect(move.waitingMs).toBeLessThanOrEqual(all + 1e-6)
        expect(move.waitingMs).toBeGreaterThanOrEqual(1000)
        expect(move.rules.length).toBe(Math.min(200, pages.length))
        expect(move.rules.every(({ ahead, effect }) => ahead && effect === 'hint')).toBe(true)
      }),
    )
  })
})
