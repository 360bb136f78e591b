import { URLPattern } from 'urlpattern-polyfill'

/** A pathname pattern of a rule, compiled once. */
export interface PathPattern {
  /** The first folder of every path that it fits, as `/name`; empty where that may be any. */
  folder: string
  test(path: string): boolean
}

const MOST_KNOWN = 20_000
const LONGEST_SOURCE = 400
/** Things of any length that a path is cut up for: with each more, another power of the path's length is tried. */
const MOST_UNBOUNDED = 2

const known = new Map<string, PathPattern | null>()

/** The pattern in URLPattern's pathname syntax (WHATWG URL Pattern); null where it is none. */
export function pathPattern(pattern: string): PathPattern | null {
  const found = known.get(pattern)
  if (found !== undefined) return found
  const compiled = compile(pattern)
  if (known.size >= MOST_KNOWN) known.clear()
  known.set(pattern, compiled)
  return compiled
}

function compile(pattern: string): PathPattern | null {
  if (slowPattern(pattern)) return null
  try {
    const whole = new URLPattern({ pathname: pattern })
    // What stands before the first sign of syntax is compared first: most pages fail there, and a pattern costs a hundred times as much.
    const start = /^(?:\/[A-Za-z0-9_~-]+(?=\/))*/.exec(pattern)?.[0] ?? ''
    return {
      folder: /^\/[^/]*/.exec(start)?.[0] ?? '',
      test: (path) => path.startsWith(start) && whole.test({ pathname: path }),
    }
  } catch {
    return null
  }
}

/**
 * What may make a pattern slow: every part of any length (`*`, a name that is not a folder's whole, a group that repeats)
 * multiplies the ways in which a path can be cut up, and repetition within repetition doubles them with each letter.
 * @returns What is expected instead, as the end of "Expected …"; null where nothing is wrong.
 */
export function slowPattern(pattern: string): string | null {
  if (pattern.length > LONGEST_SOURCE) return `a pattern of at most ${LONGEST_SOURCE} characters`
  let unbounded = 0
  for (const part of partsOf(pattern)) {
    if (part.isNested) return 'groups in which at most one thing repeats, and no group or choice with it'
    if (part.isUnbounded) unbounded++
  }
  return unbounded > MOST_UNBOUNDED ? `at most ${MOST_UNBOUNDED} parts of any length, such as *` : null
}

interface Part {
  /** It may take any number of letters, of several folders or of a piece of one. */
  isUnbounded: boolean
  /** Something repeats within what repeats. */
  isNested: boolean
}

/** A pattern's wildcards, names and groups (WHATWG URL Pattern, section 2.1), as far as they matter for its speed. */
function partsOf(pattern: string): Part[] {
  const parts: Part[] = []
  for (let at = 0; at < pattern.length; at++) {
    const letter = pattern[at]!
    if (letter === '\\') at++
    else if (letter === '*') {
      // A second one is no wildcard of its own, but repeats the first.
      const repeats = pattern[at + 1] === '*' || pattern[at + 1] === '+'
      if (repeats) at++
      parts.push({ isUnbounded: true, isNested: repeats })
    } else if (letter === ':') {
      const name = /^:[\p{ID_Start}_$][\p{ID_Continue}$]*/u.exec(pattern.slice(at))?.[0]
      if (!name) continue
      const before = pattern[at - 1]
      at += name.length - 1
      if (pattern[at + 1] === '(') continue
      const next = pattern[at + 1]
      const isFolder = before === '/' && (next === undefined || next === '/')
      const repeats = next === '*' || next === '+'
      if (repeats) at++
      // Behind a slash it repeats folder by folder; else pieces of any length, in any number.
      parts.push({ isUnbounded: !isFolder, isNested: repeats && before !== '/' })
    } else if (letter === '(' || letter === '{') {
      const end = endOf(pattern, at)
      const inner = pattern.slice(at + 1, end)
      const repeats = pattern[end + 1] === '*' || pattern[end + 1] === '+'
      parts.push(letter === '(' ? ofExpression(inner, repeats) : ofBraces(inner, repeats))
      at = repeats ? end + 1 : end
    }
  }
  return parts
}

function ofExpression(inner: string, repeats: boolean): Part {
  const plain = inner
    .replace(/\\[1-9]|\\k/g, '+++')
    .replace(/\\./g, 'x')
    .replace(/\[(?:\\.|[^\]])*\]/g, 'x')
  const own = plain.match(/[*+]|\{\d+,\d*\}/g)?.length ?? 0
  const branches = /[(|]/.test(plain)
  return {
    isUnbounded: own > 0 || repeats,
    isNested: own > 1 || (branches && own > 0) || (repeats && (own > 0 || branches)),
  }
}

function ofBraces(inner: string, repeats: boolean): Part {
  const parts = partsOf(inner)
  return {
    isUnbounded: repeats || parts.some((part) => part.isUnbounded),
    isNested: (repeats || parts.length > 1) && parts.length > 0,
  }
}

/** Where what is opened at a place ends; the last place where it never does. */
function endOf(pattern: string, from: number): number {
  const [opening, closing] = pattern[from] === '(' ? ['(', ')'] : ['{', '}']
  let depth = 0
  for (let at = from; at < pattern.length; at++) {
    if (pattern[at] === '\\') at++
    else if (pattern[at] === opening) depth++
    else if (pattern[at] === closing && --depth === 0) return at
  }
  return pattern.length - 1
}
