import { URLPattern } from 'urlpattern-polyfill'

/** A maintainer's pattern, ready to be tried: a whole address in URLPattern syntax, or a path on any host. */
export class Pattern {
  private readonly whole: URLPattern
  /** What an address must have at least; most have not, and trying a whole pattern costs a hundred times as much. */
  private readonly host: string | undefined
  private readonly hostEnd: string | undefined
  private readonly pathStart: string

  /** @throws TypeError where it is not in URLPattern syntax */
  constructor(readonly source: string) {
    const pattern = source
    // Taken apart here where that is plain, since the parser for whole patterns stumbles over empty folders.
    const [, protocol, hostname, port, path] = WHOLE.exec(pattern) ?? []
    const pathname = protocol ? path : pattern.startsWith('/') ? pattern : undefined
    this.whole =
      protocol && hostname && pathname
        ? new URLPattern({ protocol, hostname, port: port ?? '', pathname })
        : /^(?:[a-z][a-z0-9+.*-]*|\*):/i.test(pattern)
          ? new URLPattern(pattern)
          : new URLPattern({ pathname: pattern })
    this.host = hostname && /^[a-z0-9.-]+$/.test(hostname) ? hostname : undefined
    this.hostEnd = hostname && /^\*\.[a-z0-9.-]+$/.test(hostname) ? hostname.slice(1) : undefined
    // Up to the first character that may be syntax, or may be written in another way in an address. A name in a path may be
    // followed by something that makes it optional.
    this.pathStart = /^(?:\/[A-Za-z0-9_~-]+(?=\/))*/.exec(pathname ?? '')?.[0] ?? ''
  }

  /**
   * The same as the source of a regular expression for whole addresses, or for paths where it begins with a slash; null where
   * the pattern has more than plain text and `*`.
   */
  asExpression(): string | null {
    if (/[\\?+:(){}#[\]]/.test(this.source.replace(/^(?:https?|\*):\/\/(?=[^/:]+\/)/, ''))) return null
    const [, protocol, hostname, , path] = WHOLE.exec(this.source) ?? []
    const plain = (text: string, any: string) =>
      text
        .split('*')
        .map((part) => part.replace(/[.$^|\\/-]/g, '\\$&'))
        .join(any)
    if (!protocol)
      return this.source.startsWith('/') ? `^${plain(new URL(`http://x${this.source}`).pathname, '.*')}$` : null
    return `^${protocol === '*' ? 'https?' : protocol}:\\/\\/${plain(hostname!, '.*')}${plain(path!, '.*')}$`
  }

  test(url: URL): boolean {
    // No server takes longer ones, and a pattern may take a while over them.
    if (url.href.length > LONGEST_ADDRESS) return false
    if (this.host !== undefined && url.hostname !== this.host) return false
    if (this.hostEnd !== undefined && !url.hostname.endsWith(this.hostEnd)) return false
    return url.pathname.startsWith(this.pathStart) && this.whole.test(url.href)
  }
}

const LONGEST_ADDRESS = 1 << 14
const WHOLE = /^(https?|\*):\/\/([^/:?#[\]]+)(?::(\d+))?(\/(?:[^\\?]|\\.)*)$/
const known = new Map<string, Pattern>()
const MOST_KNOWN = 1_000

/** The same patterns are asked for again with every reading. @throws TypeError */
export function compilePattern(pattern: string): Pattern {
  const found = known.get(pattern) ?? new Pattern(pattern)
  if (known.size >= MOST_KNOWN) known.clear()
  known.set(pattern, found)
  return found
}

/** What is wrong with a pattern, as the end of "Expected …"; null where nothing is. */
export function patternProblem(pattern: string): string | null {
  if (!/^(\/|https?:\/\/|\*:\/\/)/.test(pattern))
    return 'a path that begins with /, or an address that begins with https:// or http://'
  try {
    const compiled = compilePattern(pattern)
    // A pattern without any word in it would charge everything to one payer.
    if (compiled.test(new URL('https://any.invalid/')) && compiled.test(new URL('http://else.invalid/x.js')))
      return 'a pattern that does not fit every address'
    return null
  } catch (error) {
    return `URLPattern syntax (${(error as Error).message.slice(0, 120)})`
  }
}

/** Whether an address fits a pattern; false for either that can't be read. */
export function fitsPattern(pattern: string, address: string): boolean {
  try {
    return URL.canParse(address) && compilePattern(pattern).test(new URL(address))
  } catch {
    return false
  }
}

/** A pattern for files like one address: the file itself without its query, or its whole host. */
export function patternFor(address: string, of: 'file' | 'folder' | 'host'): string {
  const url = new URL(address)
  // What is syntax in a pattern is meant literally here.
  const path = url.pathname.replace(/[\\*?+:(){}]/g, '\\$&')
  const origin = `${url.protocol}//${url.host}`
  if (of === 'host') return `${origin}/*`
  return of === 'file' ? `${origin}${path}` : `${origin}${path.slice(0, path.lastIndexOf('/') + 1)}*`
}
