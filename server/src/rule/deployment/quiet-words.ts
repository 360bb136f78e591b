import { quietAt, type QuietTime, type QuietTimes } from '@unvelt/core'
import { ProblemError } from '../../problem/problem.error.js'

const DAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays']

const clock = (minutes: number) =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`

const said = ({ days, from, until }: QuietTime, zone: string) =>
  `Nothing goes live on ${[...days].sort().map((day) => DAYS[day - 1]).join(', ')} from ${clock(from)} to ${clock(until)} (${zone}).` // prettier-ignore

/** @throws ProblemError 423 where nothing goes live at a moment. */
export function refuseInQuietTime(quiet: QuietTimes, at: Date): void {
  const holds = quietAt(quiet, at)
  if (holds) throw new ProblemError(423, `${said(holds, quiet.zone)} Nothing was put live.`)
}
