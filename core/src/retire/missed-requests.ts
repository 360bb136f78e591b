/** Requests for what is gone, by the path that was asked for. */
export interface MissedRequest {
  path: string
  times: number
  /** Pages that asked for it, as far as they were told. */
  from: string[]
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
/** Combined log format: host, identity, user, [time], "request", status, bytes, "referrer", "agent". */
const LINE =
  /^\S+ \S+ \S+ \[(\d\d)\/(\w{3})\/(\d{4}):(\d\d):(\d\d):(\d\d) ([+-]\d\d)(\d\d)\] "[A-Z]+ (\S+)[^"]*" (\d{3}) \S+(?: "([^"]*)")?/
const MOST_TOLD = 100
const MOST_FROM = 5

/**
 * What visitors asked for and did not get (404, 410) of some files or folders since a moment, the most asked for first. Lines that
 * are none of the format are passed over.
 * @param paths Paths of files, or of folders with a `/` at their end.
 */
export function missedRequests(log: string, since: Date, paths: readonly string[]): MissedRequest[] {
  const files = new Set(paths.filter((path) => !path.endsWith('/')))
  const folders = paths.filter((path) => path.endsWith('/') && path.length > 1)
  const found = new Map<string, { times: number; from: Set<string> }>()
  for (const line of log.split('\n')) {
    const match = LINE.exec(line)
    if (!match || (match[10] !== '404' && match[10] !== '410')) continue
    const at = timeOf(match)
    if (at === null || at < since.getTime()) continue
    const path = match[9]!.replace(/[?#].*$/, '')
    if (!files.has(path) && !folders.some((folder) => path.startsWith(folder))) continue
    const one = found.get(path) ?? { times: 0, from: new Set<string>() }
    one.times++
    const referrer = match[11]
    if (referrer && referrer !== '-' && one.from.size < MOST_FROM) one.from.add(referrer)
    found.set(path, one)
  }
  return [...found]
    .map(([path, { times, from }]) => ({ path, times, from: [...from] }))
    .sort((a, b) => b.times - a.times || a.path.localeCompare(b.path))
    .slice(0, MOST_TOLD)
}

function timeOf([, day, month, year, hour, minute, second, zoneHours, zoneMinutes]: RegExpExecArray): number | null {
  const monthIndex = MONTHS.indexOf(month!)
  if (monthIndex < 0) return null
  const utc = Date.UTC(Number(year), monthIndex, Number(day), Number(hour), Number(minute), Number(second))
  const sign = zoneHours!.startsWith('-') ? -1 : 1
  return utc - sign * (Math.abs(Number(zoneHours)) * 60 + Number(zoneMinutes)) * 60_000
}
