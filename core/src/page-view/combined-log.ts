/** One line of an access log. */
export interface LogLine {
  method: string
  /** As it was asked for, query included. */
  target: string
  status: number
  userAgent: string
}

/**
 * A line in combined log format (Apache HTTP Server documentation, “Log Files”); further fields behind it are let pass.
 * Null where the line is not of that form. Quotes within a field are escaped with a backslash.
 */
export function parseLogLine(line: string): LogLine | null {
  const match = COMBINED.exec(line)
  if (!match) return null
  const [, method, target, status, userAgent] = match
  return { method: method!, target: target!, status: Number(status), userAgent: userAgent! }
}

const QUOTED = String.raw`"(?:[^"\\]|\\.)*"`
const COMBINED = new RegExp(
  String.raw`^\S+ \S+ .{1,200}? \[[^\]]{1,60}\] "([A-Z]{1,20}) (\S{1,4000})(?: HTTP/[\d.]+)?" (\d{3}) (?:\d+|-) ${QUOTED} "((?:[^"\\]|\\.)*)"`,
)

/** A connection on which nothing was asked, or nothing that was HTTP: servers write it down all the same. */
const isUnasked = (line: string): boolean => UNASKED.test(line)
const UNASKED = new RegExp(
  String.raw`^\S+ \S+ .{1,200}? \[[^\]]{1,60}\] ${QUOTED} (\d{3}) (?:\d+|-) ${QUOTED} ${QUOTED}`,
)

/** The path of a line that shows somebody a page: it was got, and there. Null for all others. */
export function viewedPath({ method, target, status }: LogLine): string | null {
  if (method !== 'GET' || (status !== 200 && status !== 304)) return null
  const path = target.split(/[?#]/, 1)[0]!
  return path.startsWith('/') ? path : null
}

const MOST_BAD_KEPT = 5
const LONGEST_SHOWN = 200

/** Counts page views line by line; holds a number per path and nothing of the lines. */
export class ViewCounter {
  lines = 0
  private number = 0
  views = 0
  bots = 0
  /** Lines that show nobody a page: files, errors, forms sent. */
  passedOver = 0
  bad = 0
  readonly badLines: { line: number; text: string }[] = []
  readonly byPath = new Map<string, number>()

  constructor(
    /** Whether a path is a page; files of pages are none. */
    private readonly isPage: (path: string) => boolean,
    private readonly isBot: (userAgent: string) => boolean,
  ) {}

  take(text: string): void {
    // Empty lines count here, so that a line is named by the number that an editor shows.
    this.number++
    if (text.trim() === '') return
    this.lines++
    const line = parseLogLine(text)
    if (!line && isUnasked(text)) {
      this.passedOver++
      return
    }
    if (!line) {
      this.bad++
      if (this.badLines.length < MOST_BAD_KEPT)
        this.badLines.push({ line: this.number, text: text.slice(0, LONGEST_SHOWN) })
      return
    }
    const path = viewedPath(line)
    if (path === null || !this.isPage(path)) this.passedOver++
    else if (this.isBot(line.userAgent)) this.bots++
    else {
      this.views++
      this.byPath.set(path, (this.byPath.get(path) ?? 0) + 1)
    }
  }
}
