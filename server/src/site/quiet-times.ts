import { opensAt, type QuietTimes } from '@unvelt/core'
import { ProblemError } from '../problem/problem.error.js'

/** @throws ProblemError 422 where there is no minute left in the week, or a time ends before it begins. */
export function refuseNeverOpen(quiet: QuietTimes): void {
  const wrong = quiet.times.findIndex(({ from, until }) => until <= from)
  if (wrong >= 0)
    throw new ProblemError(422, 'A time ends before it begins.', [
      { field: `quiet/times/${wrong}/until`, message: 'Expected an hour after the first one; a night is two times.' },
    ])
  if (opensAt(quiet, new Date()) === null)
    throw new ProblemError(422, 'No hour of the week would be left in which anything could go live.')
}
