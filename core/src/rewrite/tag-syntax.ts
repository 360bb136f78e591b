import { attributeText } from './page-text.js'

const TAB = 9
const LINE_FEED = 10
const FORM_FEED = 12
const RETURN = 13
const SPACE = 32
const DOUBLE_QUOTE = 34
const SINGLE_QUOTE = 39
const AMPERSAND = 38
const SLASH = 47
const BACKSLASH = 92
const EQUALS = 61
const GREATER = 62

export const isSpace = (c: number): boolean =>
  c === SPACE || c === LINE_FEED || c === TAB || c === RETURN || c === FORM_FEED
export const isLetter = (c: number): boolean => ((c | 32) - 97) >>> 0 < 26

/** Characters as numbers, by offset; what lies at `size` and beyond does not count. */
export type Codes = Uint8Array | Uint16Array

function attributeNameEnd(codes: Codes, from: number, size: number): number {
  let i = from + 1
  for (; i < size; i++) {
    const c = codes[i]!
    if (c > GREATER) continue
    if (c === GREATER || c === EQUALS || c === SLASH || isSpace(c)) break
  }
  return i
}

function spaceEnd(codes: Codes, from: number, size: number): number {
  let i = from
  while (i < size && isSpace(codes[i]!)) i++
  return i
}

/** Where a value without quotes ends. */
function plainValueEnd(codes: Codes, from: number, size: number): number {
  let i = from
  for (; i < size; i++) {
    const c = codes[i]!
    if (c > GREATER) continue
    if (c === GREATER || isSpace(c)) break
  }
  return i
}

/**
 * The value of one attribute of a start tag, decoded; undefined when the tag has none of that name (in small letters).
 * `codes` are those of `text`; `from` is right behind the tag's name, and `end` behind its `>`. Reads nothing else, since
 * most tags are only looked at.
 */
export function attributeValue(
  text: string,
  codes: Codes,
  from: number,
  end: number,
  name: string,
): string | undefined {
  const close = end - 1
  let i = from
  while (i < close) {
    let c = codes[i]!
    if (c === SLASH || isSpace(c)) {
      i++
      continue
    }
    const start = i
    i = attributeNameEnd(codes, i, close)
    const matches = i - start === name.length && isNamed(codes, start, name)
    i = spaceEnd(codes, i, close)
    if (i >= close || codes[i] !== EQUALS) {
      if (matches) return ''
      continue
    }
    i = spaceEnd(codes, i + 1, close)
    c = i < close ? codes[i]! : GREATER
    let begin = i
    let stop: number
    if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) {
      begin = i + 1
      do i++
      while (i < close && codes[i] !== c)
      stop = i++
    } else stop = i = plainValueEnd(codes, i, close)
    if (!matches) continue
    return attributeText(text.slice(begin, stop))
  }
  return undefined
}

/** Whether a name in small letters stands at a place, in letters of any size. */
export function isNamed(codes: Codes, start: number, name: string): boolean {
  for (let i = 0; i < name.length; i++) {
    const c = codes[start + i]!
    const wanted = name.charCodeAt(i)
    if (c !== wanted && !(c >= 65 && c <= 90 && c + 32 === wanted)) return false
  }
  return true
}

/** Whether there is anything in a tag by which an address in it may name a host: two slashes of either kind, or a reference. */
export function mayNameHost(codes: Codes, start: number, end: number): boolean {
  for (let i = start; i < end; i++) {
    const c = codes[i]!
    if (c > 92) continue
    if (c === AMPERSAND) return true
    if ((c === SLASH || c === BACKSLASH) && (codes[i + 1] === SLASH || codes[i + 1] === BACKSLASH)) return true
  }
  return false
}

/** Where the name of a whole tag ends. */
const nameStop = (tag: string) => 1 + tag.slice(1).search(/[\t\n\f\r />]/)

export interface Attribute {
  /** In small letters. */
  name: string
  /** As it stands in the tag, without its quotes. */
  raw: string
  /** The whole attribute in the tag's text, from its name to behind its value; and where its name ends. */
  start: number
  nameEnd: number
  end: number
  /** One of that name came before it, so browsers don't look at it. */
  isDouble: boolean
}

/** The attributes of one start tag, given as its whole text. */
export function readAttributes(tag: string): Attribute[] {
  const found: Attribute[] = []
  const names = new Set<string>()
  let i = nameStop(tag)
  for (;;) {
    let c = tag.charCodeAt(i)
    if (c === GREATER || c !== c) return found
    if (c === SLASH || isSpace(c)) {
      i++
      continue
    }
    const start = i
    do c = tag.charCodeAt(++i)
    while (c === c && c !== EQUALS && c !== GREATER && c !== SLASH && !isSpace(c))
    const nameEnd = i
    const name = tag.slice(start, nameEnd).toLowerCase()
    let end = i
    let raw = ''
    while (isSpace(c)) c = tag.charCodeAt(++i)
    if (c === EQUALS) {
      do c = tag.charCodeAt(++i)
      while (isSpace(c))
      if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) {
        const close = tag.indexOf(c === DOUBLE_QUOTE ? '"' : "'", i + 1)
        raw = tag.slice(i + 1, close)
        i = close + 1
      } else {
        const from = i
        while (c === c && c !== GREATER && !isSpace(c)) c = tag.charCodeAt(++i)
        raw = tag.slice(from, i)
      }
      end = i
    }
    found.push({ name, raw, start, nameEnd, end, isDouble: names.has(name) })
    names.add(name)
  }
}

export const escapeValue = (value: string): string => value.replace(/&/g, '&amp;').replace(/"/g, '&quot;')

/** What becomes of one attribute: it is taken out, gets another value, or goes by another name with the value it has. */
export type AttributeChange = null | { value: string } | { name: string }

/**
 * A start tag with some attributes changed, and those of `added` put in front of all others; all else byte for byte as it was.
 * What changes takes its doubles with it: with the first one gone, the second would count.
 */
export function withAttributes(
  tag: string,
  changes: Record<string, AttributeChange>,
  added: Record<string, string> = {},
): string {
  const inFront = Object.entries(added).map(([name, value]) => ` ${written(name, value)}`)
  const pieces: string[] = []
  const at = nameStop(tag)
  let copied = at
  for (const { name, start, nameEnd, end, isDouble } of readAttributes(tag)) {
    const isChanged = Object.hasOwn(changes, name)
    if (!isChanged && !Object.hasOwn(added, name)) continue
    const change = isChanged && !isDouble ? changes[name]! : null
    pieces.push(tag.slice(copied, start))
    if (change && 'value' in change) pieces.push(written(name, change.value))
    else if (change) pieces.push(change.name, tag.slice(nameEnd, end))
    copied = end
  }
  return tag.slice(0, at) + inFront.join('') + pieces.join('') + tag.slice(copied)
}

const written = (name: string, value: string) => (value === '' ? name : `${name}="${escapeValue(value)}"`)
