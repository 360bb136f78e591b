import fc from 'fast-check'
import { apportion, attribute, NO_SOURCES, predict, splitRequest, tolls } from '../src/index.js'
import { reading, record } from './reading-arbitrary.js'

const file = record('g', { url: 'https://site.test/glued.js', transferBytes: 100, decodedBytes: 1000 })
const parts = [
  { addon: 'a', from: 0, bytes: 600 },
  { addon: 'b', from: 600, bytes: 400 },
]
const sources = { ...NO_SOURCES, ownHosts: ['site.test'], glued: { '/glued.js': parts } }
const page = reading([record('page', { url: 'https://site.test/', type: 'document' }), file], {
  fileUse: [
    {
      requestId: 'g',
      used: [
        [0, 50],
        [550, 700],
      ],
    },
  ],
})

describe('shares', () => {
  it('add up to the whole, each within one of what is due', () => {
    fc.assert(
      fc.property(fc.nat(1e9), fc.array(fc.nat(1e6), { minLength: 1, maxLength: 20 }), (total, weights) => {
        const shares = apportion(total, weights)
        const sum = weights.reduce((all, weight) => all + weight, 0)
        expect(shares.reduce((all, share) => all + share, 0)).toBe(total)
        shares.forEach((share, n) => {
          expect(share).toBeGreaterThanOrEqual(0)
          if (sum > 0) expect(Math.abs(share - (total * weights[n]!) / sum)).toBeLessThanOrEqual(1)
        })
      }),
    )
  })
})

describe('a glued file', () => {
  it('is split by its parts: decoded by their size, transfer in proportion, idle by what ran in each', () => {
    const byPayer = new Map(tolls(page, attribute(page, sources)).map((toll) => [toll.payer, toll]))
    expect(byPayer.get('glued')).toMatchObject({ requests: 1, transferBytes: 0, decodedBytes: 0 })
    expect(byPayer.get('a')).toMatchObject({ requests: 0, transferBytes: 60, decodedBytes: 600, idleBytes: 500 })
    expect(byPayer.get('b')).toMatchObject({ requests: 0, transferBytes: 40, decodedBytes: 400, idleBytes: 300 })
  })

  it('spares its part, and no request, when one of its add-ons goes', () => {
    const { saved, requests } = predict(page, attribute(page, sources), new Map([['b', 'skip' as const]]), {
      needs: {},
      libraries: [],
    })
    expect(requests).toEqual([])
    expect(saved).toMatchObject([{ payer: 'b', requests: 0, decodedBytes: 400, transferBytes: 40, idleBytes: 300 }])
  })

  it('adds up whatever its list of parts says', () => {
    const shares = fc.array(
      fc.record({ payer: fc.constantFrom('a', 'b', 'c'), from: fc.nat(2000), bytes: fc.nat(900) }),
      { minLength: 1, maxLength: 6 },
    )
    const used = fc.array(fc.tuple(fc.nat(1200), fc.nat(1200)) as fc.Arbitrary<[number, number]>, { maxLength: 5 })
    fc.assert(
      fc.property(shares, used, fc.nat(5000), fc.nat(5000), (list, ranges, transferBytes, decodedBytes) => {
        const request = { ...file, transferBytes, decodedBytes }
        const split = splitRequest(request, list, { requestId: 'g', used: ranges })
        const sum = (key: 'transferBytes' | 'decodedBytes') => split.reduce((all, part) => all + part[key], 0)
        expect([sum('transferBytes'), sum('decodedBytes')]).toEqual([transferBytes, decodedBytes])
        for (const part of split) expect(part.idleBytes).toBeGreaterThanOrEqual(0)
      }),
    )
  })
})
