import type { Leftover } from '../cms/leftovers.js'

const LINE = /\[([^\]]+)\] "(?:GET|HEAD) ([^\s?]+)/
/** A day, a month, a year and a time, as the combined log format writes them. */
const TIME = /^(\d\d)\/(\w{3})\/(\d{4}):(\S+) (\S+)$/

/** Files among the leftovers, with when a browser last asked for each, as far as the access log goes back. */
export function withLastRead(leftovers: Leftover[], log: Iterable<string>): Leftover[] {
  const files = new Set(leftovers.filter(({ type }) => type === 'file').map(({ name }) => name))
  if (files.size === 0) return leftovers
  const last = new Map<string, string>()
  for (const line of log) {
    const [, time, path] = LINE.exec(line) ?? []
    if (path && files.has(path)) last.set(path, time!)
  }
  return leftovers.map((one) => (last.has(one.name) ? { ...one, lastRead: timeOf(last.get(one.name)!) } : one))
}

const timeOf = (time: string) => new Date(time.replace(TIME, '$2 $1 $3 $4 $5')).toISOString()
