import 'reflect-metadata'
import fc from 'fast-check'
import { MEASURES } from '@unvelt/contract'
import { bytes, MEASURE_WORDS, milliseconds, percent, plural, signed, span, timeLeft } from '../src/figures/format.js'
import { figureWords } from '../src/ledger/figure-words.js'
import { BASES } from '../src/ledger/weighing.js'

/** As it is read: the space before a unit is one that no line breaks at. */
const spoken = (text: string) => text.replaceAll('\u00a0', ' ')
const BYTES_OF: Record<string, number> = { B: 1, KB: 1e3, MB: 1e6, GB: 1e9 }
const read = (text: string) => {
  const [figure = '', unit = ''] = spoken(text).split(' ')
  return { figure: Number(figure.replace(/,/g, '')), unit }
}

describe('bytes', () => {
  it('are as near to the truth as their last digit', () =>
    fc.assert(
      fc.property(fc.nat(5e9), (value) => {
        const { figure, unit } = read(bytes(value))
        expect(Math.abs(figure * BYTES_OF[unit]! - value)).toBeLessThanOrEqual(Math.max(0.5, value * 0.006))
      }),
    ))

  it('never reach a thousand of a unit that has a larger one, and never shrink as they grow', () =>
    fc.assert(
      fc.property(fc.oneof(fc.nat(2e6), fc.nat(2e9)), fc.oneof(fc.nat(2e6), fc.nat(2e9)), (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)].map((value) => {
          const { figure, unit } = read(bytes(value))
          if (unit !== 'GB') expect(figure).toBeLessThan(1000)
          return figure * BYTES_OF[unit]!
        })
        expect(less).toBeLessThanOrEqual(more!)
      }),
    ))

  it.each([
    [0, '0 B'],
    [812, '812 B'],
    [999.7, '1.0 KB'],
    [28_640, '28.6 KB'],
    [99_960, '100 KB'],
    [999_700, '1.00 MB'],
    [1_420_000, '1.42 MB'],
    [999_996_000, '1.00 GB'],
    [5_377_230_000, '5.38 GB'],
    [1_234_567_000_000, '1,234.57 GB'],
    [-2_500, '-2.5 KB'],
  ])('%d read %s', (value, text) => expect(spoken(bytes(value))).toBe(text))
})

describe('times', () => {
  it.each([
    [0, '0 ms'],
    [0.01, 'under 0.1 ms'],
    [3.14, '3.1 ms'],
    [9.97, '10 ms'],
    [640, '640 ms'],
    [9_999.8, '10.0 s'],
    [12_340, '12.3 s'],
  ])('%d ms read %s', (value, text) => expect(spoken(milliseconds(value))).toBe(text))

  it.each([
    [-1, 'not kept'],
    [0, 'not kept'],
    [20, '20 s'],
    [600, '10 min'],
    [14_400, '4 h'],
    [2_592_000, '30 d'],
    // Nearly a day.
    [82_800, '1 d'],
  ])('%d s of keeping read %s', (value, text) => expect(spoken(span(value))).toBe(text))

  it.each([
    [0, 'a minute left'],
    [70, 'a minute left'],
    [100, '2 min left'],
    [3_600, '60 min left'],
    [7_200, '2 h left'],
  ])('%d s of waiting read %s', (value, text) => expect(spoken(timeLeft(value))).toBe(text))
})

it('changes have a true sign, and what does not change has none', () => {
  expect([3, -1_200, 0].map((value) => spoken(signed(value, bytes)))).toEqual(['+3 B', '−1.2 KB', '0 B'])
  expect(spoken(signed(-0.01, milliseconds))).toBe('under 0.1 ms')
})

it('shares have a tenth where it says something, and none can be told of nothing', () => {
  expect([0, 0.004, 0.0999, 0.5, 1, NaN].map((share) => spoken(percent(share)))).toEqual([
    '0 %',
    '0.4 %',
    '10.0 %',
    '50 %',
    '100 %',
    '–',
  ])
})

it('a figure and its unit are never parted by the end of a line', () => {
  for (const text of [bytes(28_640), bytes(7), milliseconds(640), milliseconds(309_200), percent(0.33), span(600)])
    expect(text).not.toContain(' ')
})

it('words follow their number', () => {
  expect([plural(1, 'page'), plural(2_000, 'page'), plural(0, 'query', 'queries')]).toEqual([
    '1 page',
    '2,000 pages',
    '0 queries',
  ])
})

it('every measure has words, and every figure of it a unit on every basis', () => {
  for (const measure of MEASURES) {
    expect(MEASURE_WORDS[measure].long(2)).toMatch(/^2(\.0)?\s\S+/)
    for (const basis of BASES) {
      const words = figureWords(measure, basis)
      expect(words.unit).not.toBe('')
      expect(words.long(0.42)).toMatch(/\d/)
    }
  }
})

it('a change that rounds to nothing has no sign', () => {
  const thousandths = (value: number) => value.toFixed(3)
  expect([signed(-0.0002, thousandths), signed(0.0002, thousandths), signed(-0.002, thousandths)]).toEqual([
    '0.000',
    '0.000',
    '−0.002',
  ])
})
