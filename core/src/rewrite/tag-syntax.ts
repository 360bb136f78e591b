import { decodeHTMLAttribute } from 'entities'

const TAB = 9
const LINE_FEED = 10
const FORM_FEED = 12
const RETURN = 13
const SPACE = 32
const DOUBLE_QUOTE = 34
const SINGLE_QUOTE = 39
const SLASH = 47
const EQUALS = 61
const GREATER = 62

export const isSpace = (c: number): boolean =>
  c === SPACE || c === LINE_FEED || c === TAB || c === RETURN || c === FORM_FEED
export const isLetter = (c: number): boolean => ((c | 32) - 97) >>> 0 < 26

/** Characters as numbers, by offset; what lies at `size` and beyond does not count. */
export type Codes = Uint8Array | Uint16Array

/** Where a tag's name that begins at `from` ends; -1 when the text ends first. */
export function nameEnd(codes: Codes, from: number, size: number): number {
  for (let i = from; i < size; i++) {
    const c = codes[i]!
    // Letters are beyond all that can end a name.
    if (c > GREATER) continue
    if (c === GREATER || c === SLASH || isSpace(c)) return i
  }
  return -1
}

/**
 * Where a tag ends, behind its `>`; -1 when the text ends first. `from` is right behind the name. By the attribute states
 * of the HTML standard (section 13.2.5): a quote counts only where a value may begin.
 */
export function tagEnd(codes: Codes, from: number, size: number): number {
  let i = from
  while (i < size) {
    let c = codes[i]!
    if (c === GREATER) return i + 1
    if (c === SLASH || isSpace(c)) {
      i++
      continue
    }
    // An attribute's name; its first character may be anything, even an equals sign.
    i = attributeNameEnd(codes, i, size)
    i = spaceEnd(codes, i, size)
    if (i >= size) return -1
    if (codes[i] !== EQUALS) continue
    i = spaceEnd(codes, i + 1, size)
    if (i >= size) return -1
    c = codes[i]!
    if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) {
      do i++
      while (i < size && codes[i] !== c)
      i++
    } else i = plainValueEnd(codes, i, size)
  }
  return -1
}

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
    const raw = text.slice(begin, stop)
    return raw.includes('&') ? decodeHTMLAttribute(raw) : raw
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

/** Where the name of a whole tag ends. */
const nameStop = (tag: string) => 1 + tag.slice(1).search(/[\t\n\f\r />]/)

export interface Attribute {
  /** In small letters. */
  name: string
  /** Character references decoded. */
  value: string
  /** The whole attribute in the tag's text, from its name to behind its value. */
  start: number
  end: number
}

/** The attributes of one start tag, given as its whole text. Of two with one name the first counts, as in browsers. */
export function readAttributes(tag: string, withDoubles = false): Attribute[] {
  const found: Attribute[] = []
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
    const name = tag.slice(start, i).toLowerCase()
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
    if (withDoubles || !found.some((attribute) => attribute.name === name))
      found.push({ name, value: raw.includes('&') ? decodeHTMLAttribute(raw) : raw, start, end })
  }
}

/** Whether a start tag closes itself: a slash right before the end counts unless it belongs to a value without quotes. */
export function isSelfClosing(tag: string): boolean {
  return tag.endsWith('/>') && (readAttributes(tag, true).at(-1)?.end ?? 0) <= tag.length - 2
}

const escapeValue = (value: string) => value.replace(/&/g, '&amp;').replace(/"/g, '&quot;')

/** A start tag with some attributes set, and, where the new value is null, taken out; all else byte for byte as it was. */
export function withAttributes(tag: string, attributes: Attribute[], changes: Record<string, string | null>): string {
  let result = tag
  const replaced = attributes.filter((a) => Object.hasOwn(changes, a.name)).sort((a, b) => b.start - a.start)
  for (const { name, start, end } of replaced) {
    const value = changes[name]
    const text = value == null ? '' : `${name}="${escapeValue(value)}"`
    result = result.slice(0, start) + text + result.slice(end)
  }
  const added = Object.entries(changes)
    .filter(([name, value]) => value !== null && !attributes.some((a) => a.name === name))
    .map(([name, value]) => (value === '' ? ` ${name}` : ` ${name}="${escapeValue(value!)}"`))
  const at = nameStop(result)
  return result.slice(0, at) + added.join('') + result.slice(at)
}
