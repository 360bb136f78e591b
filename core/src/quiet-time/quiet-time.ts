/** Hours of some days of the week in which nothing goes live. */
export interface QuietTime {
  /** Days of the week, 1 for Monday to 7 for Sunday (ISO 8601). */
  days: number[]
  /** Minutes of the day, 0 to 1439. */
  from: number
  /** Minutes of the day, more than `from` and 1440 at the most; the minute itself is quiet no more. */
  until: number
}

export interface QuietTimes {
  /** Of the clock by which they are meant (IANA time zone). */
  zone: string
  times: QuietTime[]
}

const MINUTES_A_DAY = 1440
const MINUTE_MS = 60_000
/** Whoever finds no open minute in so many days finds none at all: quiet times come back every week. */
const MOST_DAYS = 9

/** The one that holds at a moment; null where changes may go live. */
export function quietAt({ zone, times }: QuietTimes, at: Date): QuietTime | null {
  if (times.length === 0) return null
  const { day, minute } = clockIn(zone, at)
  return times.find(({ days, from, until }) => days.includes(day) && from <= minute && minute < until) ?? null
}

/** The first whole minute from a moment on in which changes may go live; null where there is none. */
export function opensAt(quiet: QuietTimes, at: Date): Date | null {
  let now = at
  for (;;) {
    const holds = quietAt(quiet, now)
    if (!holds) return now
    if (now.getTime() - at.getTime() > MOST_DAYS * MINUTES_A_DAY * MINUTE_MS) return null
    const minute = Math.floor(now.getTime() / MINUTE_MS)
    const left = holds.until - clockIn(quiet.zone, now).minute
    now = new Date(Math.min(minute + left, nextTick(minute)) * MINUTE_MS)
  }
}

/** Clocks are put forward and back at quarters of an hour, so none is passed over. */
const TICK_MINUTES = 15
const nextTick = (minute: number) => (Math.floor(minute / TICK_MINUTES) + 1) * TICK_MINUTES

const clocks = new Map<string, Intl.DateTimeFormat>()
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

/** What a clock of a zone shows (ECMA-402). */
function clockIn(zone: string, at: Date): { day: number; minute: number } {
  let clock = clocks.get(zone)
  if (!clock) {
    clock = new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'short', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }) // prettier-ignore
    clocks.set(zone, clock)
  }
  const parts = Object.fromEntries(clock.formatToParts(at).map(({ type, value }) => [type, value]))
  return { day: DAYS.indexOf(parts.weekday!) + 1, minute: 60 * Number(parts.hour) + Number(parts.minute) }
}
