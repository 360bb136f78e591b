/** A line of the combined log format, as far as it is looked at here. */
export interface LogLine {
  /** Milliseconds since 1970. */
  at: number
  /** As it was asked for, with its query. */
  target: string
  status: string
  referrer: string | undefined
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
/** Combined log format: host, identity, user, [time], "request", status, bytes, "referrer", "agent". */
const LINE =
  /^\S+ \S+ \S+ \[(\d\d)\/(\w{3})\/(\d{4}):(\d\d):(\d\d):(\d\d) ([+-]\d\d)(\d\d)\] "[A-Z]+ (\S+)[^"]*" (\d{3}) \S+(?: "([^"]*)")?/

/** The lines of a log since a moment. Those that are none of the format are passed over. */
export function* logLines(log: string, since: Date): Generator<LogLine> {
  // Logs tell whole seconds, so what came in the same one counts.
  const from = Math.floor(since.getTime() / 1_000) * 1_000
  for (const line of log.split('\n')) {
    const match = LINE.exec(line)
    const at = match && timeOf(match)
    if (match && at != null && at >= from) yield { at, target: match[9]!, status: match[10]!, referrer: match[11] }
  }
}

function timeOf([, day, month, year, hour, minute, second, zoneHours, zoneMinutes]: RegExpExecArray): number | null {
  const monthIndex = MONTHS.indexOf(month!)
  if (monthIndex < 0) return null
  const utc = Date.UTC(Number(year), monthIndex, Number(day), Number(hour), Number(minute), Number(second))
  const sign = zoneHours!.startsWith('-') ? -1 : 1
  return utc - sign * (Math.abs(Number(zoneHours)) * 60 + Number(zoneMinutes)) * 60_000
}
