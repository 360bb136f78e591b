import fc from 'fast-check'
import { pageTotals } from '../src/pages/page-totals.js'

const request = fc.record({ fromCache: fc.boolean(), transferBytes: fc.nat(100_000) }).map((one) => ({
  ...one,
  // Nothing comes over the line for what is in the cache.
  transferBytes: one.fromCache ? 0 : one.transferBytes,
}))

it('a page comes to what its payers come to, whatever came from the browser’s cache', () => {
  fc.assert(
    fc.property(fc.array(fc.record({ payer: fc.constantFrom('a', 'b', 'c'), request })), (asked) => {
      const whole = pageTotals(asked.map((one) => one.request))
      const lanes = ['a', 'b', 'c'].map((payer) =>
        pageTotals(asked.filter((one) => one.payer === payer).map((one) => one.request)),
      )
      for (const figure of ['requests', 'fromCache', 'transferBytes'] as const)
        expect(lanes.reduce((sum, lane) => sum + lane[figure], 0)).toBe(whole[figure])
      expect(whole.requests + whole.fromCache).toBe(asked.length)
      expect(whole.requests).toBe(asked.filter((one) => !one.request.fromCache).length)
    }),
  )
})
