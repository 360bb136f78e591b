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

/** Where a tag's name that begins at `from` ends; -1 when the text ends first. */
export function nameEnd(text: string, from: number): number {
  for (let i = from; ; i++) {
    const c = text.charCodeAt(i)
    // Letters are beyond all that can end a name.
    if (c > GREATER) continue
    if (c === GREATER || c === SLASH || isSpace(c)) return i
    if (c !== c) return -1
  }
}

/**
 * The rest of a tag as nearly everybody writes it. One match in the engine's own search is several times faster than
 * looking at each character. Every attribute begins with space, so that there is one way only to read it.
 */
const WELL_FORMED = /(?:[\t\n\f\r ]+[^\t\n\f\r />="'<]+(?:=(?:"[^"]*"|'[^']*'|[^\t\n\f\r "'=<>`]+))?)*[\t\n\f\r ]*\/?>/y

/** Where a tag ends, behind its `>`; -1 when the text ends first. `from` is right behind the name. */
export function tagEnd(text: string, from: number): number {
  WELL_FORMED.lastIndex = from
  return WELL_FORMED.test(text) ? WELL_FORMED.lastIndex : oddTagEnd(text, from)
}

/** The same for any tag, by the attribute states of the HTML standard (section 13.2.5): a quote counts only where a value may begin. */
function oddTagEnd(text: string, from: number): number {
  let i = from
  for (;;) {
    let c = text.charCodeAt(i)
    if (c === GREATER) return i + 1
    if (c === SLASH || isSpace(c)) {
      i++
      continue
    }
    if (c !== c) return -1
    // An attribute's name; its first character may be anything, even an equals sign.
    i = attributeNameEnd(text, i)
    while (isSpace((c = text.charCodeAt(i)))) i++
    if (c !== EQUALS) continue
    do c = text.charCodeAt(++i)
    while (isSpace(c))
    if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) {
      i = text.indexOf(c === DOUBLE_QUOTE ? '"' : "'", i + 1) + 1
      if (i === 0) return -1
    } else {
      while (c === c && c !== GREATER && !isSpace(c)) c = text.charCodeAt(++i)
    }
  }
}

function attributeNameEnd(text: string, from: number): number {
  for (let i = from + 1; ; i++) {
    const c = text.charCodeAt(i)
    if (c > GREATER) continue
    if (c !== c || c === GREATER || c === EQUALS || c === SLASH || isSpace(c)) return i
  }
}

/**
 * The value of one attribute of a start tag, decoded; undefined when the tag has none of that name (in small letters).
 * `from` is right behind the tag's name, and the tag must be whole. Reads nothing else, since most tags are only looked at.
 */
export function attributeValue(text: string, from: number, name: string): string | undefined {
  let i = from
  for (;;) {
    let c = text.charCodeAt(i)
    if (c === GREATER || c !== c) return undefined
    if (c === SLASH || isSpace(c)) {
      i++
      continue
    }
    const start = i
    i = attributeNameEnd(text, i)
    const matches = i - start === name.length && isNamed(text, start, name)
    while (isSpace((c = text.charCodeAt(i)))) i++
    if (c !== EQUALS) {
      if (matches) return ''
      continue
    }
    do c = text.charCodeAt(++i)
    while (isSpace(c))
    let begin = i
    let end: number
    if (c === DOUBLE_QUOTE || c === SINGLE_QUOTE) {
      begin = i + 1
      end = text.indexOf(c === DOUBLE_QUOTE ? '"' : "'", begin)
      i = end + 1
    } else {
      while (c === c && c !== GREATER && !isSpace(c)) c = text.charCodeAt(++i)
      end = i
    }
    if (!matches) continue
    const raw = text.slice(begin, end)
    return raw.includes('&') ? decodeHTMLAttribute(raw) : raw
  }
}

/** Whether a name in small letters stands at a place, in letters of any size. */
export function isNamed(text: string, start: number, name: string): boolean {
  for (let i = 0; i < name.length; i++) {
    const c = text.charCodeAt(start + i)
    const wanted = name.charCodeAt(i)
    if (c !== wanted && !(c >= 65 && c <= 90 && c + 32 === wanted)) return false
  }
  return true
}

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
  let i = nameEnd(tag, 1)
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
  const at = nameEnd(result, 1)
  return result.slice(0, at) + added.join('') + result.slice(at)
}
