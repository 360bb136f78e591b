import fc from 'fast-check'
import { opensAt, quietAt, type QuietTimes } from '../src/index.js'

const FRIDAYS = { days: [5], from: 12 * 60, until: 24 * 60 }
const WEEKEND = { days: [6, 7], from: 0, until: 24 * 60 }
const at = (text: string) => new Date(text)

it('fridays from noon are quiet by the clock of the zone', () => {
  const quiet: QuietTimes = { zone: 'Europe/Berlin', times: [FRIDAYS] }
  expect(quietAt(quiet, at('2026-11-27T10:59:00Z'))).toBeNull()
  expect(quietAt(quiet, at('2026-11-27T11:00:00Z'))).toEqual(FRIDAYS)
  expect(quietAt(quiet, at('2026-11-27T22:59:59Z'))).toEqual(FRIDAYS)
  expect(quietAt(quiet, at('2026-11-27T23:00:00Z'))).toBeNull()
  expect(opensAt(quiet, at('2026-11-27T15:20:31Z'))).toEqual(at('2026-11-27T23:00:00Z'))
})

it('one quiet time after the other is waited for', () => {
  const quiet: QuietTimes = { zone: 'America/New_York', times: [WEEKEND, FRIDAYS, { days: [1], from: 0, until: 480 }] }
  expect(opensAt(quiet, at('2026-11-27T18:00:00Z'))).toEqual(at('2026-11-30T13:00:00Z'))
})

it('a night in which the clocks go forward or back is no trap', () => {
  const quiet: QuietTimes = { zone: 'Europe/Berlin', times: [{ days: [7], from: 0, until: 4 * 60 }] }
  // 29 March 2026, 02:00 becomes 03:00; 25 October 2026, 03:00 becomes 02:00.
  for (const [from, to] of [
    ['2026-03-28T23:30:00Z', '2026-03-29T02:00:00Z'],
    ['2026-10-24T22:30:00Z', '2026-10-25T03:00:00Z'],
  ] as const) {
    expect(opensAt(quiet, at(from))).toEqual(at(to))
  }
})

it('where no minute of the week is open it says so', () => {
  const always = { days: [1, 2, 3, 4, 5, 6, 7], from: 0, until: 1440 }
  expect(opensAt({ zone: 'UTC', times: [always] }, at('2026-11-27T18:00:00Z'))).toBeNull()
})

const time = fc
  .tuple(fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }), fc.nat(1439), fc.nat(1439))
  .map(([days, a, b]) => ({ days, from: Math.min(a, b), until: Math.max(a, b) + 1 }))

it('what opens is open, not before it was asked, and never later than another open minute', () => {
  fc.assert(
    fc.property(
      fc.array(time, { maxLength: 4 }),
      fc.constantFrom('UTC', 'Europe/Lisbon', 'Asia/Kolkata', 'Pacific/Chatham'),
      fc.date({ min: at('2026-01-01T00:00:00Z'), max: at('2027-12-31T00:00:00Z'), noInvalidDate: true }),
      fc.nat(3 * 1440),
      (times, zone, asked, minutes) => {
        const opens = opensAt({ zone, times }, asked)
        const other = new Date(asked.getTime() + minutes * 60_000)
        if (opens === null) return void expect(quietAt({ zone, times }, other)).not.toBeNull()
        expect(quietAt({ zone, times }, opens)).toBeNull()
        expect(opens.getTime()).toBeGreaterThanOrEqual(asked.getTime())
        if (opens > asked) expect(quietAt({ zone, times }, new Date(opens.getTime() - 1))).not.toBeNull()
      },
    ),
    { numRuns: 300 },
  )
})
