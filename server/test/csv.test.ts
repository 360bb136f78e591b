import fc from 'fast-check'
import { parse } from 'csv-parse/sync'
import { csvOf } from '../src/inventory/csv.js'

const RUN = /^[=+\-@\t\r＝＋－＠]/

it('no line of a cell begins a row, and none that a spreadsheet would run stays as it is', () => {
  const cell = fc
    .array(fc.constantFrom('=', '+1', '-', '@', 'x', '"', ',', '\n', '\r', '\r\n', ';', '\t'))
    .map((all) => all.join(''))
  fc.assert(
    fc.property(fc.array(fc.tuple(cell, cell)), (rows) => {
      const text = csvOf(['a', 'b'], rows)
      const read = parse(text, { record_delimiter: '\r\n' }) as string[][]
      expect(read).toHaveLength(rows.length + 1)
      for (const [n, row] of read.slice(1).entries())
        row.forEach((value, column) => {
          const given = rows[n]![column]!
          expect(value).toBe(RUN.test(given) ? `'${given}` : given)
        })
      // What is not within quotes has no line break but at the end of a row.
      for (const line of text.replace(/"(?:[^"]|"")*"/g, 'q').split('\r\n')) expect(line).not.toMatch(/[\r\n]/)
    }),
  )
})
