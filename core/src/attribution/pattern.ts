import { URLPattern } from 'urlpattern-polyfill'

/** A maintainer's pattern, ready to be tried: a whole address in URLPattern syntax, or a path on any host. @throws TypeError */
export function compilePattern(pattern: string): URLPattern {
  // Taken apart here where that is plain, since the parser for whole patterns stumbles over empty folders.
  const [, protocol, hostname, port, pathname] =
    /^(https?|\*):\/\/([^/:?#[\]]+)(?::(\d+))?(\/(?:[^\\?]|\\.)*)$/.exec(pattern) ?? []
  if (protocol && hostname && pathname) return new URLPattern({ protocol, hostname, port: port ?? '', pathname })
  return /^[a-z][a-z0-9+.*-]*:/i.test(pattern) ? new URLPattern(pattern) : new URLPattern({ pathname: pattern })
}

/** What is wrong with a pattern, as the end of "Expected …"; null where nothing is. */
export function patternProblem(pattern: string): string | null {
  if (!/^(\/|https?:\/\/|\*:\/\/)/.test(pattern))
    return 'a path that begins with /, or an address that begins with https:// or http://'
  try {
    const compiled = compilePattern(pattern)
    // A pattern without any word in it would charge everything to one payer.
    if (compiled.test('https://any.invalid/') && compiled.test('http://else.invalid/x.js'))
      return 'a pattern that does not fit every address'
    return null
  } catch (error) {
    return `URLPattern syntax (${(error as Error).message.slice(0, 120)})`
  }
}

/** Whether an address fits a pattern; false for either that can't be read. */
export function fitsPattern(pattern: string, address: string): boolean {
  try {
    return compilePattern(pattern).test(address)
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
