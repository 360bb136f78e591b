import { parse } from 'csv-parse/sync'
import { ProblemError } from '../problem/problem.error.js'

const MOST_CSV_LINES = 500_000

export const atLine = (line: number, column: string, expected: string) =>
  new ProblemError(422, `Line ${line}, ${column}: expected ${expected}. Nothing was taken in.`, [
    { field: column, message: `Line ${line}: expected ${expected}.` },
  ])

/** The records of a CSV text with the lines they stand on. @throws ProblemError that says where and what was expected. */
export function csvRecords(
  text: string,
  columns: readonly string[],
): { record: Record<string, string | undefined>; line: number }[] {
  let parsed: { record: Record<string, string>; info: { lines: number } }[]
  try {
    parsed = parse(text, {
      columns: true,
      bom: true,
      trim: true,
      info: true,
      skip_empty_lines: true,
      to: MOST_CSV_LINES + 1,
    })
  } catch (error) {
    const { lines, message } = error as Error & { lines?: number }
    throw new ProblemError(422, `Line ${lines ?? 1}: ${message}. Nothing was taken in.`)
  }
  if (parsed.length > MOST_CSV_LINES)
    throw new ProblemError(422, `More than ${MOST_CSV_LINES.toLocaleString('en')} lines. Nothing was taken in.`)
  const found = Object.keys(parsed[0]?.record ?? {})
  const missing = columns.filter((column) => !found.includes(column))
  if (missing.length > 0)
    throw new ProblemError(
      422,
      `Line 1: expected columns ${columns.join(', ')}${parsed.length === 0 ? ' and at least one line below them' : `; ${missing.join(', ')} is missing`}. Nothing was taken in.`,
    )
  return parsed.map(({ record, info }) => ({ record, line: info.lines }))
}
