import fc from 'fast-check'
import { LEFTOVER_SURENESS, leftoverSureness } from '../src/index.js'

const now = new Date('2026-11-30T00:00:00Z')
const ago = (days: number) => new Date(now.getTime() - days * 86_400_000)

describe('how sure it is that a leftover is nobody’s', () => {
  it('what was touched lately is looked at first, and what nobody touched for over a year is sure', () => {
    expect(leftoverSureness({ lastWritten: ago(2), lastRead: null }, now, null)).toBe('look first')
    expect(leftoverSureness({ lastWritten: ago(900), lastRead: ago(3) }, now, null)).toBe('look first')
    expect(leftoverSureness({ lastWritten: ago(120), lastRead: null }, now, null)).toBe('likely')
    expect(leftoverSureness({ lastWritten: ago(900), lastRead: ago(401) }, now, null)).toBe('sure')
    expect(leftoverSureness({ lastWritten: null, lastRead: null }, now, null)).toBe('likely')
  })

  it('what its owner wrote to the last is no doubt, and what came after it went is', () => {
    expect(leftoverSureness({ lastWritten: ago(8), lastRead: null }, now, ago(7))).toBe('sure')
    expect(leftoverSureness({ lastWritten: ago(6), lastRead: null }, now, ago(7))).toBe('look first')
    expect(leftoverSureness({ lastWritten: null, lastRead: null }, now, ago(7))).toBe('likely')
  })

  it('never grows surer by a later trace', () => {
    const days = fc.option(fc.integer({ min: 0, max: 2_000 }), { nil: null })
    const at = (n: number | null) => (n === null ? null : ago(n))
    fc.assert(
      fc.property(days, days, days, fc.integer({ min: 0, max: 2_000 }), (written, read, gone, later) => {
        fc.pre(written !== null && later < written)
        const before = leftoverSureness({ lastWritten: at(written), lastRead: at(read) }, now, at(gone))
        const after = leftoverSureness({ lastWritten: at(later), lastRead: at(read) }, now, at(gone))
        expect(LEFTOVER_SURENESS.indexOf(after)).toBeGreaterThanOrEqual(LEFTOVER_SURENESS.indexOf(before))
      }),
    )
  })
})
