import { stringify } from 'csv-stringify/sync'

/** A table as CSV (RFC 4180). What a spreadsheet would run as a formula is made plain text. */
export const csvOf = (columns: readonly string[], rows: readonly (readonly (string | number | null)[])[]): string =>
  stringify([columns, ...rows], {
    escape_formulas: true,
    record_delimiter: 'windows',
    // A cell with a line break of any sort is quoted, so that none of its lines begins a row of its own.
    quoted_match: /[\r\n]/,
  })
