import fc from 'fast-check'
import { wordAt, WordColumnsMaker } from '../src/index.js'

const WORDS = ['used', 'not seen', 'leave-out', 'hold']
const sizes = fc.record({ payers: fc.integer({ min: 0, max: 6 }), pages: fc.integer({ min: 0, max: 40 }) })

it('says of every payer on every page what was put there last, and nothing elsewhere', () => {
  const put = fc.array(fc.record({ payer: fc.nat(5), page: fc.nat(39), word: fc.constantFrom(...WORDS) }))
  fc.assert(
    fc.property(sizes, put, ({ payers, pages }, all) => {
      const maker = new WordColumnsMaker(payers, pages)
      const told = new Map<string, string>()
      for (const { payer, page, word } of all) {
        if (payer >= payers || page >= pages) continue
        maker.put(payer, page, word)
        told.set(`${payer} ${page}`, word)
      }
      // As it comes over the line.
      const columns = JSON.parse(JSON.stringify(maker.made()))
      for (let payer = 0; payer < payers; payer++)
        for (let page = 0; page < pages; page++) expect(wordAt(columns, payer, page)).toBe(told.get(`${payer} ${page}`))
      // A row that says nothing costs nothing, and can be told from the others at a glance.
      for (const row of columns.rows) expect(row === '' || /[^.]/.test(row)).toBe(true)
    }),
  )
})

it('says nothing of a payer or page that is not there', () => {
  const columns = { words: ['used'], rows: ['a'] }
  expect(wordAt(columns, 0, 0)).toBe('used')
  expect([wordAt(columns, 0, 1), wordAt(columns, 1, 0), wordAt({ words: [], rows: [] }, 0, 0)]).toEqual([
    undefined,
    undefined,
    undefined,
  ])
})
