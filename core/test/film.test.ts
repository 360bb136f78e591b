import fc from 'fast-check'
import { filmFrames, filmLanes, type Attribution, type Reading } from '../src/index.js'

const frames = (...all: [at: number, shows: string][]) => all.map(([at, shows]) => ({ at, shows }))
const alike = (a: { shows: string }, b: { shows: string }) => a.shows === b.shows

describe('frames of a film', () => {
  it('begins with the empty window, whenever that was painted, and leaves out what shows the same', () => {
    const seen = frames([-80, 'blank'], [-20, 'white'], [310, 'white'], [400, 'head'], [420, 'head'], [900, 'whole'])
    expect(filmFrames(seen, alike)).toEqual(frames([0, 'white'], [400, 'head'], [900, 'whole']))
    expect(filmFrames([], alike)).toEqual([])
  })

  it('rises from the beginning, and shows at every moment what was painted last by then', () => {
    const anyFrames = fc
      .array(fc.tuple(fc.integer({ min: -200, max: 2000 }), fc.constantFrom('a', 'b', 'c')))
      .map((all) => frames(...all.sort(([a], [b]) => a - b)))
    fc.assert(
      fc.property(anyFrames, fc.integer({ min: 0, max: 2000 }), (seen, at) => {
        const film = filmFrames(seen, alike)
        expect(film.every((frame, n) => frame.at >= 0 && (n === 0 || frame.at >= film[n - 1]!.at))).toBe(true)
        const shown = (all: typeof seen) => all.findLast((frame) => frame.at <= at)?.shows
        expect(shown(film)).toBe(shown(seen))
      }),
    )
  })
})

it('lanes tell who was asked when, and what never ended ends with the reading', () => {
  const request = (id: string, startedMs: number, endedMs: number | null, more: object = {}) => ({
    id,
    url: `http://site.test/${id}`,
    startedMs,
    endedMs,
    transferBytes: 100,
    fromCache: false,
    ...more,
  })
  const reading = {
    requests: [
      request('b', 40, 90),
      request('a', 0, 30),
      request('c', 60, null),
      request('d', 70, 71, { fromCache: true }),
    ],
  } as unknown as Reading
  const payers = { a: 'content', b: 'slider', c: 'content', d: 'slider' }
  const requests = new Map(Object.entries(payers).map(([id, payer]) => [id, { payer }]))
  expect(filmLanes(reading, { requests } as unknown as Attribution)).toEqual([
    {
      payer: 'content',
      transferBytes: 200,
      spans: [
        [0, 30],
        [60, 90],
      ],
    },
    { payer: 'slider', transferBytes: 100, spans: [[40, 90]] },
  ])
})
