import fc from 'fast-check'
import { MEASURES, packCells } from '@unvelt/contract'
import { summedCells } from '../src/ledger/cell-sums.js'

const cells = fc.uniqueArray(
  fc.record({ page: fc.nat(5), payer: fc.nat(3), value: fc.nat(1000) }),
  { selector: ({ page, payer }) => `${page} ${payer}`, maxLength: 20 }, // prettier-ignore
)

it('sums of a sweep’s cells, and each payer’s own, are those of its cells one by one', () =>
  fc.assert(
    fc.property(cells, (list) => {
      const column = list.map(({ value }) => value)
      const packed = packCells(
        { pages: [10, 11, 12, 13, 14, 15], payers: ['a', 'b', 'c', 'd'] },
        list.map(({ page }) => page),
        list.map(({ payer }) => payer),
        Object.fromEntries(MEASURES.map((measure) => [measure, column])) as never,
      )
      const { byPage, byPayer, of, pages, payers } = summedCells(packed)
      const sum = (some: typeof list) => some.reduce((all, { value }) => all + value, 0)
      pages.forEach((_, n) => expect(byPage.transferBytes[n]).toBe(sum(list.filter(({ page }) => page === n))))
      payers.forEach((_, n) => {
        const own = list.filter(({ payer }) => payer === n)
        expect(byPayer.serverMs[n]).toBe(sum(own))
        expect([...Array.from(of[n]!.page)]).toEqual(own.map(({ page }) => page))
        expect([...Array.from(of[n]!.values.requests)]).toEqual(own.map(({ value }) => value))
        expect([...Array.from(of[n]!.values.mainThreadMs)]).toEqual(own.map(({ value }) => value))
      })
    }),
  ))
