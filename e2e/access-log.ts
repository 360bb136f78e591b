import { readFileSync } from 'node:fs'

export interface LoggedLoad {
  requests: number
  /** Bytes on the wire, headers included. */
  bytes: number
}

export interface LogLine {
  path: string
  agent: string
  host: string
  browser: boolean
  wire: number
}

/** How many lines a stand-in's access log has now, to read on from later. */
export const logLength = (file?: string): number => lines(file).length

/** What was asked of a host, the port aside, since a line of the log. */
export const askedOf = (host: string, since: number, file?: string): LogLine[] =>
  lines(file)
    .slice(since)
    .filter((line) => line.host.startsWith(`${host}:`))

/**
 * The loads of one page that the measuring browser made since a line of the log: each begins with the page itself and
 * ends where the next page is asked for. This worker has one page at a time, so loads don't overlap.
 */
export function loadsOf(path: string, pages: string[], since: number): LoggedLoad[] {
  const loads: LoggedLoad[] = []
  let open: LoggedLoad | null = null
  for (const line of lines().slice(since)) {
    if (!line.browser) continue
    if (line.host.startsWith('fernhollow.') && pages.includes(line.path)) {
      open = line.path === path ? { requests: 0, bytes: 0 } : null
      if (open) loads.push(open)
    }
    if (!open) continue
    open.requests += 1
    open.bytes += line.wire
  }
  return loads
}

function lines(file = process.env.STANDIN_LOG!): LogLine[] {
  return readFileSync(file, 'utf8')
    .split('\n')
    .filter(Boolean)
    .map((line) => {
      const [, path = '', agent = '', host = '', wire = '0'] =
        /"\S+ (\S+) HTTP[^"]*" \d+ \S+ "[^"]*" "([^"]*)" "([^"]*)" (\d+)$/.exec(line) ?? []
      return { path, agent, host, browser: /HeadlessChrome/.test(agent), wire: Number(wire) }
    })
}

export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[(sorted.length - 1) >> 1]!
}
